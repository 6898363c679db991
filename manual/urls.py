from django.urls import path

from manual import views

urlpatterns = [
    path("help/", views.index, name="help"),
    path("help/bench/<str:key>/", views.bench, name="help-bench"),
    path("help/work/<str:key>/", views.work, name="help-work"),
    path("car/<int:car_id>/guide/<str:key>/", views.guide, name="guide"),
    path("guide/leave/", views.leave, name="guide-leave"),
]
