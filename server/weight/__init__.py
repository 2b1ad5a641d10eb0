"""Weight and balance of an aircraft."""
