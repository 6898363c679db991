"""Long checks, run by hand: python -m proofs.NAME."""
