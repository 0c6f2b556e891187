"""The command line as a script uses it."""

import json
import subprocess
import sys
from pathlib import Path

import jsonschema
import pytest

SRC = Path(__file__).parents[2] / "src"
HOUSE = {"floor_area": "2340 ft2", "cooking": [{"load": "12 kW"}]}


def calc(*arguments, given=""):
    command = [sys.executable, "-m", "voltaje.cli", "calc", *arguments]
    return subprocess.run(
        command, input=given, capture_output=True, text=True, env={"PYTHONPATH": str(SRC)}, check=False
    )


def test_a_house_from_standard_input_and_from_a_file(tmp_path):
    file = tmp_path / "house.json"
    file.write_text(json.dumps(HOUSE))
    piped, read = calc("dwelling", "-", given=json.dumps(HOUSE)), calc("dwelling", str(file))
    assert piped.returncode == read.returncode == 0
    assert piped.stdout == read.stdout
    answer = json.loads(piped.stdout)
    assert list(answer) == ["tool", "book", "result", "decided_by", "steps", "findings"]
    assert set(answer["steps"][0]) == {"label", "formula", "value", "unit", "rule", "because", "decides"}
    assert set(answer["findings"][0]) == {"severity", "code", "message", "rule", "field", "mend"}
    assert answer["book"] == "NEC 2023"
    assert answer["result"]["amps"] == pytest.approx(answer["result"]["demand_va"] / 240)


@pytest.mark.parametrize(
    ("arguments", "given", "begins"),
    [
        (["dwelling", "-"], '{"floor_area": -1}', "floor_area: "),
        (["dwelling", "-"], '{"floor_area": NaN}', "floor_area: "),
        (["dwelling", "-"], "{", "file: "),
        (["dwelling", "-"], "[" * 100_000, "file: "),
        (["dwelling", "nowhere.json"], "", "file: "),
        (["dwelling"], "", "file: "),
        (["guess", "-"], "", "tool: "),
    ],
)
def test_bad_input_is_one_line_and_exit_2(arguments, given, begins):
    done = calc(*arguments, given=given)
    assert done.returncode == 2
    assert done.stderr.startswith(begins)
    assert done.stderr.count("\n") == 1
    assert done.stdout == ""


def test_the_list_and_the_schema():
    assert "\ndwelling\t" in calc("--list").stdout
    schema = json.loads(calc("dwelling", "--schema").stdout)
    jsonschema.Draft202012Validator.check_schema(schema)
    jsonschema.validate(HOUSE, schema)
    with pytest.raises(jsonschema.ValidationError):
        jsonschema.validate({**HOUSE, "colour": "red"}, schema)


def test_every_default_of_the_schema_is_the_default():
    schema = json.loads(calc("dwelling", "--schema").stdout)
    defaults = {key: spec["default"] for key, spec in schema["properties"].items() if "default" in spec}
    plain = calc("dwelling", "-", given=json.dumps(HOUSE)).stdout
    spelled_out = calc("dwelling", "-", given=json.dumps({**defaults, **HOUSE})).stdout
    assert plain == spelled_out
