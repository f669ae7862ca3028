"""The data pack: everything behind a published page in one file, ``bench-pack/1``.

A ZIP archive of open formats that another bench, or anybody with a spreadsheet, reads without this
program. ``reading`` checks one, ``writing`` makes one, ``tables`` are its runs, points and figures
as rows, ``about`` its README. docs/formats.md describes it for users.
"""
