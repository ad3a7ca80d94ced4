"""The program text of a build: its lines, its behaviour, the step, in MicroPython and in C++."""
