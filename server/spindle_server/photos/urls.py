"""Addresses of photos."""

from django.urls import path

from spindle_server.photos import views

urlpatterns = [
    path("samples/<int:pk>/photos/", views.SamplePhotos.as_view()),
    path("motors/<int:pk>/photos/", views.MotorPhotos.as_view()),
    path("photos/<int:pk>/", views.PhotoDetail.as_view()),
    path("photos/<int:pk>/picture/", views.PhotoPicture.as_view()),
]
