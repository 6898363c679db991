from django.urls import path

from bench.sound import views

urlpatterns = [
    path("car/<int:car_id>/check/sound/", views.sound, name="sound"),
]
