"""Long work: in a process of its own, with progress, a way to stop it, and bounds of time and
memory. The queue is django-tasks' on the database; what a person sees of it stands here."""
