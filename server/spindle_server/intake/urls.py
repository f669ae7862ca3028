"""Addresses of intake."""

from django.urls import path

from spindle_server.intake import views

urlpatterns = [
    path("motors/", views.MotorList.as_view()),
    path("motors/<int:pk>/", views.MotorFile.as_view()),
    path("motors/<int:pk>/samples/", views.SampleList.as_view()),
    path("motors/<int:pk>/claims/", views.ClaimList.as_view()),
    path("motors/<int:pk>/claims/<int:claim_pk>/", views.ClaimDetail.as_view()),
    path("claim-quantities/", views.ClaimQuantities.as_view()),
    path("size-code/", views.SizeReading.as_view()),
]
