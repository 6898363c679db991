from django.urls import path

from planner import first, views

urlpatterns = [
    path("start/", first.start, name="start"),
    path("car/<int:car_id>/plan/", views.plan, name="plan"),
    path("car/<int:car_id>/plan/choose/", views.choose_into, name="choose-into"),
    path("car/<int:car_id>/plan/build/<int:build_id>/", views.build, name="build"),
    path("car/<int:car_id>/plan/build/<int:build_id>/drag/", views.drag, name="drag"),
    path("car/<int:car_id>/plan/build/<int:build_id>/uses/", views.uses, name="uses"),
    path("car/<int:car_id>/plan/put/<int:part_id>/", views.put, name="put"),
    path("car/<int:car_id>/plan/build/<int:build_id>/<str:what>/", views.build_do, name="build-do"),
    path("car/<int:car_id>/plan/part/<int:choice_id>/", views.choice, name="choice"),
]
