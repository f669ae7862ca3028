"""Addresses of long work."""

from django.urls import path

from spindle_server.work import views

urlpatterns = [
    path("work/", views.LongWorkList.as_view()),
    path("work/<int:pk>/stop/", views.LongWorkStop.as_view()),
]
