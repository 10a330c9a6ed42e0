"""Shared by all tests."""

import os
import random

from hypothesis import settings

os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "1")  # Playwright keeps an event loop in the thread
os.environ.setdefault("APERCU_TESTING", "1")

# The same cases on every machine and however busy it is; APERCU_EXPLORE=1 looks for new ones.
EXPLORING = os.environ.get("APERCU_EXPLORE") == "1"
settings.register_profile("steady", derandomize=True, deadline=None)
settings.register_profile("explore", deadline=None, max_examples=500)
settings.load_profile("explore" if EXPLORING else "steady")


def pytest_collection_modifyitems(items):
    """Exploring takes the tests in a new order each time, the same on all workers: none may need what another left."""
    if EXPLORING:
        random.Random(os.environ.get("PYTEST_XDIST_TESTRUNUID")).shuffle(items)
