#define CATCH_CONFIG_RUNNER
#include <catch2/catch.hpp>
#include <clocale>

int main(int argc, char** argv) {
    std::setlocale(LC_ALL, ""); // as a window's process has it: the tests run once more under a decimal comma
    return Catch::Session().run(argc, argv);
}
