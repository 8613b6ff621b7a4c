"""The reasoning about the power tree: over the circuit model, from readings to odds and the next test."""
