"""The reasoning about the logic: from self-tests and trials of parts to odds and the next test."""
