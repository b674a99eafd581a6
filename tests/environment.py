"""A plugin that pytest loads first: the environment has to stand before Django reads its settings."""

import os
import tempfile

os.environ["LEXIGON_DATA"] = tempfile.mkdtemp(prefix="lexigon-tests-")
os.environ["LEXIGON_QUEUE"] = "immediate"
os.environ["LEXIGON_DEMO"] = "1"
os.environ["LEXIGON_CACHE"] = "off"  # tests of the cache switch it on
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"  # Playwright's own event loop runs in the test's thread
