"""One build tried otherwise, everything else on the head left alone: packs, heights, pressures, timing, speed."""
