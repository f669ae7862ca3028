"""Addresses of archives of runs."""

from django.urls import path

from spindle_server.exports import views

urlpatterns = [
    path("exports/", views.RunExportList.as_view()),
    path("exports/<int:pk>/", views.RunExportDetail.as_view()),
    path("exports/<int:pk>/runs.zip", views.RunExportFile.as_view()),
]
