"""Job steps, ledger of money and mass, schedule."""
