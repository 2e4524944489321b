"""Pictures of a loop, one after another: what stands still in it is worked out and painted once."""
