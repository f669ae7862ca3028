"""The record of the bench: models, services, API, permissions and publishing.

A station of the work is an app of its name. In each app ``models`` hold the constraints,
``services`` write (explicit actor, one transaction, history inside), ``selectors`` read, and
``views`` authorise, parse, call and serialise.
"""

__version__ = "0.1.0"
