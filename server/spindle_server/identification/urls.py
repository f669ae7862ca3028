"""Addresses of what is known and expected."""

from django.urls import path

from spindle_server.identification import views

urlpatterns = [
    path("motors/<int:pk>/identified/", views.IdentifiedMotor.as_view()),
    path("propellers/<int:pk>/identified/", views.IdentifiedPropeller.as_view()),
    path("propellers/identified/", views.EveryPropeller.as_view()),
    path("runs/<int:pk>/expected/", views.RunExpected.as_view()),
    path("expectation/", views.Expectation.as_view()),
    path("hindsight/", views.Hindsight.as_view()),
]
