"""Assembly: the steps of one build, what each waits for, counts that close, and what the wrong way does."""
