"""Addresses of comparisons."""

from django.urls import path

from spindle_server.compare import views

urlpatterns = [
    path("compare/", views.Comparison.as_view()),
    path("compare.csv", views.ComparisonFile.as_view()),
]
