"""Shared by all tests."""

import os

os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "1")  # Playwright keeps an event loop in the thread
os.environ.setdefault("APERCU_TESTING", "1")
