"""The reasoning about the logic: from self-tests and tests of parts to odds and the next test."""
