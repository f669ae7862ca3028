"""Addresses of craft."""

from django.urls import path

from spindle_server.match import views

urlpatterns = [
    path("craft/", views.CraftList.as_view()),
    path("craft/<int:pk>/", views.CraftDetail.as_view()),
    path("craft/<int:pk>/match/", views.CraftMatch.as_view()),
    path("craft/<int:pk>/match.csv", views.MatchTable.as_view()),
    path("craft/<int:pk>/match.xlsx", views.MatchWorkbook.as_view()),
    path("craft/<int:pk>/match.pdf", views.MatchPage.as_view()),
    path("craft/<int:pk>/closer/", views.CloserLook.as_view()),
]
