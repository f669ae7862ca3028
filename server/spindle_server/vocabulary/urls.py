"""Address of the vocabulary."""

from django.urls import path

from spindle_server.vocabulary import views

urlpatterns = [path("vocabulary/", views.Words.as_view())]
