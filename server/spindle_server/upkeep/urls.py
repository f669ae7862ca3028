"""Addresses of how the installation stands."""

from django.urls import path

from spindle_server.upkeep import views

urlpatterns = [path("upkeep/", views.Upkeep.as_view())]
