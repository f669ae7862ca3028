"""Other people's logs: proposals for what a file holds, a saved mapping, and the runs in it.

``dialect`` finds encoding, delimiter, decimal comma and the header row below a preamble;
``units`` knows how things are written; ``proposal`` guesses channel and unit of each column and
says why; ``mapping`` is what a person confirmed; ``reader`` applies it; ``split`` cuts a file of
several runs at the idle time between them.
"""
