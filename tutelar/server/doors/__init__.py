"""The stage of doors: each door and its tests, who may open what when, and the alarm."""
