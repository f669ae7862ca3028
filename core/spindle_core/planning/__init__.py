"""What is known before a run, and what it lets one expect.

``prior`` guesses a motor and a propeller from what is written on them, ``known`` joins that with
what the bench has measured, ``predict`` says what a run will draw and give, and ``hindsight``
holds predictions against what was measured afterwards.
"""
