"""Addresses of verdicts."""

from django.urls import path

from spindle_server.verdict import views

urlpatterns = [
    path("verdicts/", views.VerdictList.as_view()),
    path("verdicts/<int:pk>/", views.VerdictDetail.as_view()),
    path("verdicts/<int:pk>/proposals/", views.VerdictProposals.as_view()),
    path("verdicts/<int:pk>/adopt/", views.VerdictAdoption.as_view()),
    path("verdicts/<int:pk>/figures/", views.VerdictFigures.as_view()),
    path("verdicts/<int:pk>/figures/<int:figure_pk>/", views.VerdictFigure.as_view()),
    path("verdicts/<int:pk>/notes/", views.SpeakingNotes.as_view()),
]
