"""Lines as a trade: tubes with their bend cards."""
