"""Sow: seed lots, the seed sheet, calibration, packing, and what was really sown."""
