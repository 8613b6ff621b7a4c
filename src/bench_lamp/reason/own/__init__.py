"""What a profile's circuit says of its own limits: where they miss each other, and what would fit."""
