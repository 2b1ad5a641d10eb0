"""Sign-off: canonical facts, signatures, the ledger, gates, documents and directives."""
