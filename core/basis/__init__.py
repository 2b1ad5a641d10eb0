"""What every capability stands on: quantities, uncertainty, verdicts, refusals."""
