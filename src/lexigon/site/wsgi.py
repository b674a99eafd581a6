"""The WSGI entry point for gunicorn."""

import gc
import os

from django.core.wsgi import get_wsgi_application
from django.urls import get_resolver

from lexigon.bench.services.memory import start_watching
from lexigon.core.editing.intents.registry import prepare

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "lexigon.site.settings")
application = get_wsgi_application()
_ = get_resolver().url_patterns  # all views are loaded before somebody asks for one
prepare()
start_watching()

# Open jobs are hundreds of thousands of small values without cycles, which are let go as soon as nothing names them. To
# look through all
# of them for cycles after every few edits would make one edit in twenty wait a tenth of a second for nothing.
gc.set_threshold(10_000, 20, 200)
gc.freeze()
