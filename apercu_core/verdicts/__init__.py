"""From an interval and a margin to one of five verdicts, and what it would take to settle the unsettled."""
