"""Addresses of session and people."""

from django.urls import path

from spindle_server.accounts import views

urlpatterns = [
    path("session/", views.SessionView.as_view()),
    path("users/", views.UserList.as_view()),
    path("users/<int:pk>/", views.UserDetail.as_view()),
]
