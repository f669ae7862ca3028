"""Addresses of other people's files."""

from django.urls import path

from spindle_server.imports import views

urlpatterns = [
    path("imports/open/", views.FileOpen.as_view()),
    path("imports/files/", views.FileStore.as_view()),
    path("imports/inbox/", views.InboxList.as_view()),
    path("imports/inbox/<int:pk>/", views.InboxDetail.as_view()),
    path("imports/inbox/<int:pk>/file/", views.InboxContent.as_view()),
    path("imports/large/open/", views.LargeOpen.as_view()),
    path("imports/large/", views.LargeFileList.as_view()),
    path("imports/large/<int:pk>/", views.LargeFileDetail.as_view()),
    path("imports/large/<int:pk>/parts/<int:index>/", views.LargeFilePart.as_view()),
    path("imports/large/<int:pk>/store/", views.LargeFileStore.as_view()),
    path("imports/mappings/", views.KnownMappingList.as_view()),
    path("imports/mappings/<int:pk>/", views.KnownMappingDetail.as_view()),
]
