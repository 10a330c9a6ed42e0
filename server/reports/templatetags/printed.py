"""Filters of the printed pages."""

from __future__ import annotations

import re

from django import template
from django.utils.html import conditional_escape
from django.utils.safestring import SafeString, mark_safe

register = template.Library()


@register.filter
def units_whole(text: str) -> SafeString:
    """Safe in HTML, with units such as t/ha kept on one line."""
    return mark_safe(re.sub(r"(\S+/\S+)", r'<span class="whole">\1</span>', conditional_escape(text)))
