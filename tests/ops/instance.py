"""An instance of its own, run by the command itself: its database, its server, its worker, in a folder of its own."""

import http.cookiejar
import os
import re
import shutil
import signal
import subprocess
import tempfile
import urllib.error
import urllib.parse
import urllib.request
from contextlib import suppress
from pathlib import Path

ROOT = Path(__file__).parent.parent.parent
# What the tests run with, and an instance of its own must not: it has the settings of the product.
_OURS = ("DATABASE_URL", "VOLTAJE_PORT", "DJANGO_SETTINGS_MODULE")


class Instance:
    """A folder with everything that an instance keeps."""

    def __init__(self):
        self.local = Path(tempfile.mkdtemp(prefix="voltaje-"))
        self.local.chmod(0o755)  # the database's user goes through it
        # Instances that are started at one time look for their ports apart from each other.
        self.apart = 100 * int(os.environ.get("PYTEST_XDIST_WORKER", "gw0").removeprefix("gw"))
        (self.local / "database_port").write_text(str(54_400 + self.apart))

    def run(self, *arguments, check=True):
        """Run the command; return what it did."""
        told = {name: value for name, value in os.environ.items() if name not in _OURS}
        told |= {"VOLTAJE_LOCAL": str(self.local), "VOLTAJE_PORT": str(8_700 + self.apart), "VOLTAJE_ROOT": str(ROOT)}
        done = subprocess.run([ROOT / "voltaje", *arguments], env=told, capture_output=True, text=True, check=False)
        assert done.returncode == 0 or not check, done.stderr
        return done

    def end(self):
        """Stop it and take it away."""
        self.run("stop", check=False)
        shutil.rmtree(self.local, ignore_errors=True)

    @property
    def address(self):
        """Where it serves."""
        return f"http://127.0.0.1:{(self.local / 'web_port').read_text().strip()}"

    @property
    def password(self):
        """The demo's password."""
        return (self.local / "demo_password").read_text().strip()

    def server(self):
        """The number of the server's first process, and of those that it began."""
        first = int((self.local / "web.pid").read_text())
        return first, children(first)

    def database(self):
        """The number of the database's first process, and of those that it began."""
        first = int((self.local / "postgres" / "postmaster.pid").read_text().split()[0])
        return first, children(first)


def children(pid):
    """Return the processes that a process began."""
    with suppress(FileNotFoundError):
        return [int(each) for each in Path(f"/proc/{pid}/task/{pid}/children").read_text().split()]
    return []


def end_at_once(*pids):
    """End processes without a word."""
    for pid in pids:
        with suppress(ProcessLookupError):
            os.kill(pid, signal.SIGKILL)


class Editor:
    """One who is signed in as the demo, and sends what its page would send."""

    def __init__(self, instance):
        self.instance = instance
        cookies = urllib.request.HTTPCookieProcessor(http.cookiejar.CookieJar())
        self.opener = urllib.request.build_opener(cookies)
        page = self.get("/account/sign-in/")
        self.token = re.search(r'name="csrfmiddlewaretoken" value="(\w+)"', page)[1]
        self.post("/account/sign-in/", username="demo", password=instance.password, csrfmiddlewaretoken=self.token)
        page = self.get("/jobs/")
        self.token = re.search(r'X-CSRFToken": "(\w+)"', page)[1]
        self.jobs = list(dict.fromkeys(re.findall(r'href="(/jobs/[0-9a-f-]{36}/)', page)))

    def get(self, path):
        """Return a page."""
        return self.opener.open(self.instance.address + path, timeout=30).read().decode()

    def post(self, path, **fields):
        """Return what is answered to a post; "" where there is no answer."""
        headers = {"HX-Request": "true"} | ({"X-CSRFToken": self.token} if hasattr(self, "token") else {})
        body = urllib.parse.urlencode(fields).encode()
        try:
            request = urllib.request.Request(self.instance.address + path, body, headers)
            return self.opener.open(request, timeout=30).read().decode()
        except (OSError, urllib.error.URLError):
            return ""
