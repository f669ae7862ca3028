"""Addresses of rankings."""

from django.urls import path

from spindle_server.rank import views

urlpatterns = [
    path("rank/", views.Ranking.as_view()),
    path("compare/mass/", views.MassAndMoney.as_view()),
    path("compare/mass.csv", views.MassAndMoneyFile.as_view()),
    path("rank/weights/", views.Weights.as_view()),
    path("rank/weights/<int:pk>/", views.OwnWeightsDetail.as_view()),
    path("rank/kept/", views.KeptRankings.as_view()),
    path("rank/kept/<int:pk>/moves/", views.KeptRankingMoves.as_view()),
]
