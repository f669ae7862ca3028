"""Addresses of session and people."""

from django.urls import path

from spindle_server.accounts import views

urlpatterns = [
    path("session/", views.SessionView.as_view()),
    path("users/", views.UserList.as_view()),
    path("users/<int:pk>/", views.UserDetail.as_view()),
    path("users/<int:pk>/password/", views.UserPassword.as_view()),
    path("users/<int:pk>/deeds/", views.UserDeeds.as_view()),
    path("session/password/", views.OwnPassword.as_view()),
    path("session/logins/", views.OwnSessions.as_view()),
    path("session/logins/<str:handle>/", views.OwnSession.as_view()),
]
