"""Between the plan and the stuck tray: cautions (doses, soaks and media follow)."""
