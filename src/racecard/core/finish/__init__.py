"""The whole finish: results judged, its notes gathered, its sentences written."""
