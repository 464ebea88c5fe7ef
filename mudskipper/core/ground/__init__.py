"""What everything stands on: frozen models, refusals in words, kinds, how properties are shown, time, stations."""
