"""Specification → plots → model → fit → means → comparisons → analysis, one module for each step."""
