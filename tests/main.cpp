#include "runner.h"

int main(int argc, char** argv) {
    use_locale();
    return run_tests(argc, argv);
}
