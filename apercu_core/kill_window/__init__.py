"""The weeks around the end of a cover: stages ahead, what each way to end it would do, and what waiting costs."""
