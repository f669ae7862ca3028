"""Address of the board."""

from django.urls import path

from spindle_server.board import views

urlpatterns = [path("board/", views.Board.as_view())]
