"""Sources of numbers that change across the copies."""
