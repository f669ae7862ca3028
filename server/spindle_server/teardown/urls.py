"""Addresses of the teardown."""

from django.urls import path

from spindle_server.teardown import views

urlpatterns = [
    path("teardown/vocabulary/", views.Vocabulary.as_view()),
    path("teardown/compare/", views.TeardownComparison.as_view()),
    path("teardown/compare.csv", views.TeardownComparisonFile.as_view()),
    path("samples/<int:pk>/teardown/", views.TeardownSheet.as_view()),
]
