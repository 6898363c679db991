from django.urls import include, path

#: the wheel well last: its addresses take any word for a corner
TOPICS = (
    "gearing",
    "geometry",
    "steering",
    "alignment",
    "ride",
    "square",
    "weights",
    "breathing",
    "sound",
    "cooling",
    "brakes",
    "air",
    "mass",
    "logs",
    "shake",
    "well",
)

urlpatterns = [path("", include(f"bench.{topic}.urls")) for topic in TOPICS]
