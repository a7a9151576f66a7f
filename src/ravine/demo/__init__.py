"""The demo scenario: a river gauging station, built by these scripts with the core's own kernel calls."""
