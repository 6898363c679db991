from django.urls import path

from garage.car import views as car_views
from garage.chassis import old_parts as stands
from garage.chassis import points
from garage.person import views as person_views
from garage.readings import axis, rules, walk
from garage.readings import views as readings_views

urlpatterns = [
    path("", car_views.garage, name="garage"),
    path("settings/", person_views.settings_page, name="settings"),
    path("car/new/", car_views.car_new, name="car-new"),
    path("car/<int:car_id>/", car_views.car, name="car"),
    path("car/<int:car_id>/tally/", car_views.car_tally, name="car-tally"),
    path("car/<int:car_id>/remove/", car_views.car_remove, name="car-remove"),
    path("car/<int:car_id>/measure/", readings_views.measure, name="measure"),
    path("car/<int:car_id>/stands/", stands.stands, name="stands"),
    path("car/<int:car_id>/stands/<str:end>/<str:family>/", stands.stands_part, name="stands-part"),
    path("car/<int:car_id>/stands/<str:end>/<str:family>/remove/", stands.stands_remove, name="stands-remove"),
    path("car/<int:car_id>/rules/", rules.rules, name="rules"),
    path("car/<int:car_id>/walk/", walk.walk, name="walk"),
    path("car/<int:car_id>/walk/sheet/", walk.sheet, name="walk-sheet"),
    path("car/<int:car_id>/walk/skip/", walk.skip, name="walk-skip"),
    path("car/<int:car_id>/walk/again/<int:skip_id>/", walk.again, name="walk-again"),
    path("car/<int:car_id>/measure/<str:corner>/", readings_views.corner, name="corner"),
    path("car/<int:car_id>/measure/<str:corner>/axis/", axis.axis, name="axis"),
    path("car/<int:car_id>/measure/<str:corner>/points/", points.points, name="points"),
    path("car/<int:car_id>/measure/<str:corner>/points/mirror/", points.mirror_points, name="points-mirror"),
    path("car/<int:car_id>/measure/<str:corner>/<str:code>/", readings_views.station, name="station"),
    path("car/<int:car_id>/reading/<int:reading_id>/mirror/", readings_views.mirror, name="mirror"),
    path("car/<int:car_id>/reading/<int:reading_id>/strike/", readings_views.strike, name="strike"),
]
