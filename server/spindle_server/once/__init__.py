"""A request that is sent again is not carried out again."""
