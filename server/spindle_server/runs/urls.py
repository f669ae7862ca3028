"""Addresses of runs and imports."""

from django.urls import path

from spindle_server.runs import bench_day_views, pack_views, sheet_views, views

urlpatterns = [
    path("bench-days/<str:day>/", bench_day_views.BenchDayDetail.as_view()),
    path("packs-now/", pack_views.PacksNow.as_view()),
    path("packs-now/<int:pk>/", pack_views.PackNowDetail.as_view()),
    path("readings/", sheet_views.SheetKeep.as_view()),
    path("readings/look/", sheet_views.SheetLook.as_view()),
    path("readings/later/", sheet_views.LaterCellList.as_view()),
    path("readings/later/<int:pk>/", sheet_views.LaterCellDetail.as_view()),
    path("runs/", views.RunList.as_view()),
    path("runs/rebuild/", views.RunsRebuild.as_view()),
    path("runs/<int:pk>/", views.RunDetail.as_view()),
    path("runs/<int:pk>/noticed/", views.RunNoticed.as_view()),
    path("runs/<int:pk>/reduction/", views.RunReduction.as_view()),
    path("runs/<int:pk>/trace/", views.RunTrace.as_view()),
    path("runs/<int:pk>/bench-log.csv", views.RunLogFile.as_view()),
    path("runs/<int:pk>/points.csv", views.RunPointsFile.as_view()),
    path("runs/<int:pk>/source.csv", views.RunSourceFile.as_view()),
    path("imports/preview/", views.ImportPreview.as_view()),
    path("imports/", views.ImportConfirm.as_view()),
]
