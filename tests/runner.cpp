#define CATCH_CONFIG_RUNNER
#include "runner.h"
#include <catch2/catch.hpp>
#include <clocale>
#include <cstdio>
#include <cstdlib>
#include <string_view>

void use_locale() {
    const char* comma = std::getenv("DERVISH_COMMA");
    const bool wanted = comma && *comma == '1';
    setenv("LOCPATH", DERVISH_LOCALES, 0); // made by the build
    if (wanted) setenv("LC_ALL", "de_DE.UTF-8", 1);
    std::setlocale(LC_ALL, "");
    if (!wanted || std::string_view(std::localeconv()->decimal_point) == ",") return;
    std::fputs("no locale with a decimal comma in " DERVISH_LOCALES "\n", stderr);
    std::exit(2);
}

int run_tests(int argc, char** argv) { return Catch::Session().run(argc, argv); }
