"""Addresses of other people's files."""

from django.urls import path

from spindle_server.imports import views

urlpatterns = [
    path("imports/open/", views.FileOpen.as_view()),
    path("imports/files/", views.FileStore.as_view()),
    path("imports/mappings/", views.KnownMappingList.as_view()),
    path("imports/mappings/<int:pk>/", views.KnownMappingDetail.as_view()),
]
