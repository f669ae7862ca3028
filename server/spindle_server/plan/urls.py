"""Addresses of campaigns."""

from django.urls import path

from spindle_server.plan import bench_views, views

urlpatterns = [
    path("campaigns/", views.CampaignList.as_view()),
    path("campaigns/<int:pk>/", views.CampaignDetail.as_view()),
    path("campaigns/<int:pk>/matrix/", views.CampaignMatrix.as_view()),
    path("campaigns/<int:pk>/sheet/", views.RunSheet.as_view()),
    path("campaigns/<int:pk>/sheet.csv", views.RunSheetFile.as_view()),
    path("campaigns/<int:pk>/sheet.pdf", views.RunSheetPage.as_view()),
    path("campaigns/<int:pk>/meanwhile/", bench_views.Meanwhile.as_view()),
    path("campaigns/<int:pk>/overrides/", bench_views.OverrideList.as_view()),
    path("campaigns/<int:pk>/day-sheets/", bench_views.TakeSheet.as_view()),
    path("overrides/<int:pk>/", bench_views.OverrideDetail.as_view()),
    path("day-sheets/in-use/", bench_views.SheetAtBench.as_view()),
    path("day-sheets/<int:pk>/steps/", bench_views.SheetSteps.as_view()),
    path("day-sheets/<int:pk>/put-away/", bench_views.SheetAway.as_view()),
    path("plan/next/", views.NextOnTheBench.as_view()),
]
