"""Addresses of comparisons."""

from django.urls import path

from spindle_server.compare import views

urlpatterns = [
    path("compare/", views.Comparison.as_view()),
    path("compare/tests/", views.KindTable.as_view()),
    path("compare/tests.csv", views.KindTableFile.as_view()),
    path("compare/one-kv/", views.OneKv.as_view()),
    path("compare/choices/", views.Choices.as_view()),
    path("compare/torque/", views.Torque.as_view()),
    path("compare/saved/", views.SavedComparisons.as_view()),
    path("compare/saved/<int:pk>/", views.SavedComparisonDetail.as_view()),
    path("compare/picks/", views.Picks.as_view()),
    path("compare/picks/<int:pk>/", views.PickDetail.as_view()),
    path("compare/bench/", views.BenchTable.as_view()),
    path("compare/bench.csv", views.BenchTableFile.as_view()),
    path("compare/bench.xlsx", views.BenchWorkbook.as_view()),
    path("compare.csv", views.ComparisonFile.as_view()),
]
