"""Addresses of session and people."""

from django.urls import path

from spindle_server.accounts import views

urlpatterns = [
    path("session/", views.SessionView.as_view()),
    path("users/", views.UserList.as_view()),
    path("users/<int:pk>/", views.UserDetail.as_view()),
    path("users/<int:pk>/password/", views.UserPassword.as_view()),
    path("users/<int:pk>/second-factor/", views.UserSecondFactor.as_view()),
    path("access-rule/", views.AccessRuleView.as_view()),
    path("users/<int:pk>/deeds/", views.UserDeeds.as_view()),
    path("session/password/", views.OwnPassword.as_view()),
    path("session/second-factor/", views.OwnSecondFactor.as_view()),
    path("session/second-factor/confirmed/", views.OwnSecondFactorConfirmed.as_view()),
    path("session/second-factor/codes/", views.OwnPaperCodes.as_view()),
    path("session/second-factor/ended/", views.OwnSecondFactorEnded.as_view()),
    path("session/logins/", views.OwnSessions.as_view()),
    path("session/logins/<str:handle>/", views.OwnSession.as_view()),
]
