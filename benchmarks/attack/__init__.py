"""An attack on Gingham that anybody can run: kills, hostile files, a monkey, full disks, hours of play."""
