"""Addresses of campaigns."""

from django.urls import path

from spindle_server.plan import views

urlpatterns = [
    path("campaigns/", views.CampaignList.as_view()),
    path("campaigns/<int:pk>/", views.CampaignDetail.as_view()),
    path("campaigns/<int:pk>/matrix/", views.CampaignMatrix.as_view()),
    path("campaigns/<int:pk>/sheet/", views.RunSheet.as_view()),
    path("campaigns/<int:pk>/sheet.csv", views.RunSheetFile.as_view()),
    path("plan/next/", views.NextOnTheBench.as_view()),
]
