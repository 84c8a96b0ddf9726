#pragma once

/// The locale as a window's process takes it from its surroundings; with DERVISH_COMMA=1 one whose decimal sign is a
/// comma, without which the process ends. Before Qt is asked for anything.
void use_locale();
/// Every test that the words of the command line choose.
int run_tests(int argc, char** argv);
