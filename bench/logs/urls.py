from django.urls import path

from bench.logs import views

urlpatterns = [
    path("car/<int:car_id>/logs/add/", views.add, name="log-add"),
    path("car/<int:car_id>/logs/<int:log_id>/", views.log, name="log"),
    path("car/<int:car_id>/logs/<int:log_id>/remove/", views.drop, name="log-drop"),
]
