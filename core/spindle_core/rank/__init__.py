"""An order of motors by what somebody needs: scores, how sure their places are, what is beaten."""
