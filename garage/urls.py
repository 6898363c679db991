from django.urls import path

from garage import axis, points, rules, stands, views, walk

urlpatterns = [
    path("", views.garage, name="garage"),
    path("settings/", views.settings_page, name="settings"),
    path("car/new/", views.car_new, name="car-new"),
    path("car/<int:car_id>/", views.car, name="car"),
    path("car/<int:car_id>/tally/", views.car_tally, name="car-tally"),
    path("car/<int:car_id>/remove/", views.car_remove, name="car-remove"),
    path("car/<int:car_id>/measure/", views.measure, name="measure"),
    path("car/<int:car_id>/stands/", stands.stands, name="stands"),
    path("car/<int:car_id>/stands/<str:end>/<str:family>/", stands.stands_part, name="stands-part"),
    path("car/<int:car_id>/stands/<str:end>/<str:family>/remove/", stands.stands_remove, name="stands-remove"),
    path("car/<int:car_id>/rules/", rules.rules, name="rules"),
    path("car/<int:car_id>/walk/", walk.walk, name="walk"),
    path("car/<int:car_id>/walk/sheet/", walk.sheet, name="walk-sheet"),
    path("car/<int:car_id>/walk/skip/", walk.skip, name="walk-skip"),
    path("car/<int:car_id>/walk/again/<int:skip_id>/", walk.again, name="walk-again"),
    path("car/<int:car_id>/measure/<str:corner>/", views.corner, name="corner"),
    path("car/<int:car_id>/measure/<str:corner>/axis/", axis.axis, name="axis"),
    path("car/<int:car_id>/measure/<str:corner>/points/", points.points, name="points"),
    path("car/<int:car_id>/measure/<str:corner>/points/mirror/", points.mirror_points, name="points-mirror"),
    path("car/<int:car_id>/measure/<str:corner>/<str:code>/", views.station, name="station"),
    path("car/<int:car_id>/reading/<int:reading_id>/mirror/", views.mirror, name="mirror"),
    path("car/<int:car_id>/reading/<int:reading_id>/strike/", views.strike, name="strike"),
]
