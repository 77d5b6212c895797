"""From looks to histories: stage ladders, intervals, day zero."""
