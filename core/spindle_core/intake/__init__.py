"""A motor comes in: what its maker claims, what was in the box, and what fits it.

``motor_kind`` says what of the record applies to a motor; ``claims`` and ``claim_checks`` hold
claims against each other, ``claim_evidence`` against what a bench measured; ``parcel`` looks into
the box; ``propeller_code`` and ``propeller_fit`` say which propeller it is and whether it sits;
``mounting_screw`` whether a screw reaches the winding; ``peers`` who its neighbours are.
"""
