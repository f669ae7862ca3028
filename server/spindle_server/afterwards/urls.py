"""Addresses of what comes afterwards."""

from django.urls import path

from spindle_server.afterwards import views

urlpatterns = [
    path("afterwards/", views.Waiting.as_view()),
    path("afterwards/tables/", views.TableNote.as_view()),
    path("afterwards/tables/look/", views.TableLook.as_view()),
    path("afterwards/erasing/", views.Erasing.as_view()),
    path("flights/", views.Flights.as_view()),
    path("flights/<int:pk>/", views.FlightDetail.as_view()),
    path("letters/", views.Letters.as_view()),
    path("letters/<int:pk>/", views.LetterDetail.as_view()),
    path("campaigns/<int:pk>/requests/", views.CampaignRequests.as_view()),
    path("follow-ups/", views.FollowUps.as_view()),
    path("follow-ups/<int:pk>/", views.FollowUpDetail.as_view()),
    path("craft/<int:pk>/flown/", views.CraftFlown.as_view()),
    path("motors/<int:pk>/afterwards/", views.MotorAfterwards.as_view()),
]
