"""What all endpoints share: authentication, roles, pages, errors, the schema and the front page."""
