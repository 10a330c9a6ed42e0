"""A whole reading of a trial: each measure analysed as the design says, its verdicts, and the doubts."""
