"""The launcher behind ``./spindle``. Standard library only: it installs everything else.

``cli`` the commands · ``setup`` what a fresh machine needs · ``mariadb`` the private database
server · ``processes`` starting, watching and stopping · ``instance`` where one installation keeps
its things · ``checks`` what ``./spindle test`` runs
"""
