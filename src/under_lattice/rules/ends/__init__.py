"""The fixed ends of layers."""
