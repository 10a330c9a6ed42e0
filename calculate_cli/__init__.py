"""The command `calculate`."""
