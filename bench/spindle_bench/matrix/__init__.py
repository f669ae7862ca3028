"""What happens when something fails: every failure in every state of the bench, as a table.

``house``     all processes and pages in virtual time, each able to freeze or die
``expected``  what shall happen in each cell, written down before it is run
``cells``     brings a cell about, and holds what happened against it
``table``     ``python -m spindle_bench.matrix.table``: all of it as Markdown
"""
