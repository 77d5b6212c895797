"""The scorer trainer: drawn root systems of known make-up, and how a scorer's marks compare with them."""
