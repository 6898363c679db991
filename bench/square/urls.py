from django.urls import path

from bench.square import views

urlpatterns = [
    path("car/<int:car_id>/check/square/", views.square, name="square"),
]
