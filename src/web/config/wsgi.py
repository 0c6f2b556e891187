"""The application object that a WSGI server runs."""

import gc
import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "web.config.settings")
application = get_wsgi_application()

# A solve makes and drops thousands of small objects. The collector need not walk over all that was loaded at start each
# time: an edit takes a third less (benchmarks/edit_time.py).
gc.collect()
gc.freeze()
gc.set_threshold(100_000, 50, 100)
