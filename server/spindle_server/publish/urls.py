"""Addresses of publishing."""

from django.urls import path

from spindle_server.publish import views

urlpatterns = [path("snapshots/", views.SnapshotList.as_view())]
