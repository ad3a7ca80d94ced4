// A board that exists only on paper: what is written to it is said, what it reads is set.
#pragma once
#include <fcntl.h>
#include <stdint.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <time.h>
#include <unistd.h>

static bool board_tells = false;  // whether every call is said
static double board_shares[256];
static bool board_levels[256];
static uint32_t board_clock = 0;  // ms; taken from the real clock where it is negative time
static bool board_runs = false;
static int board_kept[64];

inline void board_begin() { fcntl(0, F_SETFL, fcntl(0, F_GETFL) | O_NONBLOCK); }
inline void board_says(const char *text) {
  puts(text);
  fflush(stdout);
}
inline void board_call(const char *what, int pin, long value) {
  if (board_tells) printf("@ %s %d %ld\n", what, pin, value);
}
inline void board_level(int pin, bool high) { board_call("level", pin, high); }
inline void board_output(int pin) { board_call("output", pin, 0); }
inline void board_input(int pin, bool pull_up) { board_call("input", pin, pull_up); }
inline bool board_reads(int pin) { return board_levels[pin]; }
inline double board_share(int pin) { return board_shares[pin]; }
inline void board_pulses(int pin, long hertz, int percent) {
  board_call("hertz", pin, hertz);
  board_call("duty", pin, percent);
}
inline uint64_t board_real_us() {
  timespec t;
  clock_gettime(CLOCK_MONOTONIC, &t);
  return (uint64_t)t.tv_sec * 1000000u + (uint64_t)t.tv_nsec / 1000u;
}
inline uint32_t board_ms() { return board_runs ? (uint32_t)(board_real_us() / 1000u) : board_clock; }
inline uint32_t board_us() { return board_runs ? (uint32_t)board_real_us() : board_clock * 1000u; }
inline void board_pause_us(uint32_t us) { board_call("pause", 0, (long)us); }
inline void board_on_edge(int pin, bool rising, void (*routine)()) {
  board_call("edge", pin, rising);
  (void)routine;
}
inline int board_hears() {
  unsigned char letter;
  return read(0, &letter, 1) == 1 ? letter : -1;
}
inline void board_watchdog(long ms) { board_call("watchdog", 0, ms); }
inline void board_feed() {}
inline int board_read_kept(int place) { return board_kept[place]; }
inline void board_write_kept(int place, int value) { board_kept[place] = value; }
