"""Static files by names that change with their content, in the imports of script modules too."""

from whitenoise.storage import CompressedManifestStaticFilesStorage


class StaticFiles(CompressedManifestStaticFilesStorage):
    """The product's static files."""

    support_js_module_import_aggregation = True
