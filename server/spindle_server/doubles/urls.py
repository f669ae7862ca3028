"""Addresses of doubles."""

from django.urls import path

from spindle_server.doubles import views

urlpatterns = [
    path("doubles/", views.Doubles.as_view()),
    path("doubles/look/", views.DoublesLook.as_view()),
]
