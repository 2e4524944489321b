"""What several kinds of rules have in common."""
