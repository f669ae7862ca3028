"""The stop door: a small process of its own through which any page stops the stand.

No web framework and no database: it answers while both are frozen or dead.

``token``    the signed pass of a page that is logged in
``desk``     what the door decides, without sockets and clock
``process``  sockets around one desk
"""
