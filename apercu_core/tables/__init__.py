"""Bytes of somebody's table → columns with proposed roles → plots and values, with everything odd listed."""
