#pragma once
#include <filesystem>
#include <random>
#include <string>
#include <unistd.h>

/// A folder of a test's own, gone with it.
struct Folder {
    std::filesystem::path path =
        std::filesystem::temp_directory_path() /
        ("dervish-test-" + std::to_string(::getpid()) + "-" + std::to_string(std::random_device{}()));
    Folder() { std::filesystem::create_directories(path); }
    ~Folder() { std::filesystem::remove_all(path); }
    std::filesystem::path operator/(const char* name) const { return path / name; }
};
