"""How a fact is written: by whom, in one transaction, from which version, and with its history.

``writes`` is the decorator every service stands under, ``history`` notes each change with who made
it, ``versions`` lets two people at one fact meet, ``choices`` keeps lists of words out of the
database's schema.
"""
