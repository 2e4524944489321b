"""The headless command; opens the window when no other order is given."""
