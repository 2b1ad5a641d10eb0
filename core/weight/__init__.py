"""Weight and balance: weighing, the equipment ledger, loadings, the worst that can be flown."""
