from django.urls import path

from planner import first, views
from planner.dates import views as dates
from planner.finder import views as finder

urlpatterns = [
    path("start/", first.start, name="start"),
    path("car/<int:car_id>/find/", finder.find, name="find"),
    path("car/<int:car_id>/find/<int:search_id>/", finder.found, name="found"),
    path("car/<int:car_id>/find/<int:search_id>/make/", finder.make, name="found-make"),
    path("car/<int:car_id>/find/<int:search_id>/pin/", finder.pin, name="found-pin"),
    path("car/<int:car_id>/find/<int:search_id>/clears/<str:key>/", finder.clears, name="found-clears"),
    path("car/<int:car_id>/plan/", views.plan, name="plan"),
    path("car/<int:car_id>/plan/ruler/", dates.ruler, name="ruler"),
    path("car/<int:car_id>/plan/helps/", dates.helps, name="helps"),
    path("car/<int:car_id>/plan/keep/", dates.keep_trial, name="keep-trial"),
    path("car/<int:car_id>/plan/said/", dates.keep_said, name="keep-said"),
    path("car/<int:car_id>/plan/week/<str:whose>/", dates.week, name="week"),
    path("car/<int:car_id>/plan/work/<int:build_id>/<str:key>/", dates.task, name="plan-task"),
    path("car/<int:car_id>/plan/orders/", dates.order_list, name="orders"),
    path("car/<int:car_id>/plan/orders/<int:choice_id>/", dates.order, name="order"),
    path("car/<int:car_id>/plan/orders/<int:choice_id>/claim/", dates.claim, name="claim-new"),
    path("car/<int:car_id>/plan/orders/<int:choice_id>/claim/<int:claim_id>/", dates.claim, name="claim"),
    path("car/<int:car_id>/plan/part/<int:choice_id>/receipt/", dates.receipt_add, name="receipt-add"),
    path("car/<int:car_id>/plan/receipt/<int:picture_id>/", dates.receipt, name="receipt"),
    path("car/<int:car_id>/plan/claim-picture/<int:picture_id>/", dates.claim_picture, name="claim-picture"),
    path("car/<int:car_id>/plan/happened/", dates.happened, name="happened"),
    path("car/<int:car_id>/plan/calendar.ics", dates.ics, name="plan-ics"),
    path("car/<int:car_id>/plan/choose/", views.choose_into, name="choose-into"),
    path("car/<int:car_id>/plan/build/<int:build_id>/", views.build, name="build"),
    path("car/<int:car_id>/plan/build/<int:build_id>/drag/", views.drag, name="drag"),
    path("car/<int:car_id>/plan/build/<int:build_id>/uses/", views.uses, name="uses"),
    path("car/<int:car_id>/plan/put/<int:part_id>/", views.put, name="put"),
    path("car/<int:car_id>/plan/build/<int:build_id>/<str:what>/", views.build_do, name="build-do"),
    path("car/<int:car_id>/plan/part/<int:choice_id>/", views.choice, name="choice"),
]
