#include "store/archive.h"
#include "core/job/job.h"
#include "store/job_file.h"
#include "test_folder.h"
#include <catch2/catch.hpp>

#include <csignal>
#include <fstream>
#include <random>
#include <sys/wait.h>
#include <unistd.h>

using namespace dervish;
namespace fs = std::filesystem;

namespace {
/// Bytes that do not pack, as a photograph's.
std::string photograph(unsigned seed, std::size_t size = 3 << 20) {
    std::mt19937 engine(seed);
    std::string out(size, '\0');
    for (char& c : out) c = static_cast<char>(engine());
    return out;
}

store::JobFile with_photographs() {
    store::JobFile file{job::blank(), {}};
    file.attachments["one.jpg"].content = photograph(1);
    file.attachments["two.jpg"].content = photograph(2, 200000);
    file.attachments["note.txt"].content = "short";
    job::Entry entry{"2031-05-11", job::EntryKind::Noted, "seen", 0, {}, {}};
    entry.more.files.push_back({"one.jpg", "the joint"});
    file.job.book.push_back(entry);
    return file;
}

/// As another program reads it: every member against its checksum.
bool others_read(const fs::path& file) {
    return std::system(("unzip -tqq '" + file.string() + "' >/dev/null").c_str()) == 0;
}
} // namespace

TEST_CASE("photographs are written once: a save after an edit adds the job alone, and all is there") {
    const Folder folder;
    const fs::path path = folder / "a.dervish";
    store::JobFile file = with_photographs();
    file.attachments = store::save(file, path);
    CHECK_FALSE(file.attachments.at("one.jpg").content.in_memory());
    CHECK(file.attachments.at("note.txt").content.in_memory());
    const store::Stamp first = store::stamp_of(path);
    for (int i = 1; i <= 8; ++i) {
        file.job.name = "edit " + std::to_string(i);
        file.attachments = store::save(file, path);
        REQUIRE(others_read(path));
    }
    const store::Stamp then = store::stamp_of(path);
    CHECK(then.inode == first.inode); // nothing was written anew
    CHECK(then.size < first.size + 8 * 100'000);
    file.attachments["three.jpg"].content = photograph(3);
    file.attachments = store::save(file, path);
    CHECK(store::stamp_of(path).inode == first.inode);
    const store::JobFile back = store::load(path);
    CHECK(back.job.name == file.job.name);
    REQUIRE(back.attachments.size() == 4);
    CHECK(back.attachments.at("one.jpg").content.bytes() == photograph(1));
    CHECK(back.attachments.at("two.jpg").content.bytes() == photograph(2, 200000));
    CHECK(back.attachments.at("three.jpg").content.bytes() == photograph(3));
    CHECK(back.attachments.at("note.txt").content.bytes() == "short");
    // Earlier versions are of the job, with the photographs of the file that they are of.
    const auto earlier = store::earlier_files(path);
    REQUIRE(earlier.size() == 5);
    CHECK(fs::file_size(earlier.front()) < 200'000);
    const store::JobFile before = store::load(earlier.front());
    CHECK(before.job.name == "edit 7");
    CHECK(before.attachments.at("one.jpg").content.bytes() == photograph(1));
    CHECK_FALSE(before.attachments.contains("three.jpg")); // which no entry names
    // Elsewhere it is written whole, and one that is gone from the job is gone from the file.
    file.attachments.erase("three.jpg");
    store::save(file, folder / "b.dervish");
    CHECK(fs::file_size(folder / "b.dervish") < 3'600'000);
    store::save(file, path);
    CHECK(fs::file_size(path) < 3'600'000);
    CHECK(back.attachments.at("one.jpg").content.bytes() == photograph(1)); // of the file that had the name before
}

TEST_CASE("what was replaced stays until it is a quarter of a large file, then the file is written anew") {
    const Folder folder;
    const fs::path path = folder / "a.zip";
    store::Members members{{"large", {photograph(4)}}};
    members = store::write_archive(path, members);
    std::uintmax_t most = 0;
    bool anew = false;
    for (unsigned i = 0; i < 24; ++i) {
        const auto inode = store::stamp_of(path).inode;
        members["changes"].content = photograph(100 + i, 1 << 20);
        members = store::write_archive(path, members);
        most = std::max(most, fs::file_size(path));
        anew = anew || store::stamp_of(path).inode != inode;
    }
    CHECK(anew);
    CHECK(most < (4u << 20) + (19u << 20));
    CHECK(store::open_archive(path).at("changes").content.bytes() == photograph(123, 1 << 20));
}

TEST_CASE("a save with photographs that is cut short anywhere leaves the job of before") {
    const Folder folder;
    const fs::path path = folder / "a.dervish";
    store::JobFile file = with_photographs();
    file.job.name = "before";
    file.attachments = store::save(file, path);
    const std::size_t end = fs::file_size(path);
    file.job.name = "after";
    file.attachments["more.jpg"].content = photograph(9, 300000);
    store::save(file, path);
    const std::string whole = store::read_file(path, 100 << 20);
    std::mt19937 engine(6);
    std::vector<std::size_t> cuts{end + 1, end + 100, whole.size() - 1, whole.size() - 21, whole.size() - 22};
    for (int i = 0; i < 40; ++i) cuts.push_back(end + 1 + engine() % (whole.size() - end - 2));
    for (const std::size_t cut : cuts) {
        CAPTURE(cut, end, whole.size());
        store::write_file(path, whole.substr(0, cut));
        store::JobFile back = store::load(path);
        REQUIRE(back.job.name == "before");
        REQUIRE(back.attachments.at("one.jpg").content.bytes() == photograph(1));
        back.job.name = "again";
        store::save(back, path); // whole again
        REQUIRE(others_read(path));
    }
}

TEST_CASE("a saver of photographs killed at any moment leaves a whole job") {
    const Folder folder;
    const fs::path path = folder / "a.dervish";
    store::JobFile file = with_photographs();
    file.attachments = store::save(file, path);
    for (int round = 0; round < 10; ++round) {
        const pid_t child = ::fork();
        REQUIRE(child >= 0);
        if (child == 0)
            for (int i = 0;; ++i) {
                file.job.name = "round " + std::to_string(i);
                try {
                    store::save(file, path);
                } catch (...) {
                    ::_exit(1);
                }
            }
        ::usleep(static_cast<useconds_t>(9000 + 3700 * round));
        ::kill(child, SIGKILL);
        ::waitpid(child, nullptr, 0);
        const store::JobFile back = store::load(path);
        CHECK(back.attachments.at("one.jpg").content.bytes() == photograph(1));
    }
}

TEST_CASE("a photograph damaged on disk is told where it is asked for, and the job opens") {
    const Folder folder;
    const fs::path path = folder / "a.dervish";
    store::save(with_photographs(), path);
    std::string bytes = store::read_file(path, 100 << 20);
    bytes[bytes.find(photograph(1).substr(0, 50)) + 1000] ^= 1;
    store::write_file(path, bytes);
    const store::JobFile back = store::load(path);
    CHECK_THROWS_WITH(back.attachments.at("one.jpg").content.bytes(), Catch::Contains("one.jpg"));
    CHECK(back.attachments.at("two.jpg").content.bytes() == photograph(2, 200000));
}

TEST_CASE("earlier versions stand in the order in which they were made, whatever the clock said") {
    const Folder folder;
    const fs::path path = folder / "a.dervish";
    store::JobFile file{job::blank(), {}};
    file.job.name = "first";
    store::save(file, path);
    fs::create_directory(folder / "a.earlier");
    // The clock was years ahead once, before versions were counted and after.
    for (const char* name : {"2093-01-01 08.00.00.000.dervish", "2093-01-02 08.00.00.000.dervish",
                             "0001 2093-02-01 08.00.00.000.dervish", "0002 2093-02-02 08.00.00.000.dervish"})
        fs::copy_file(path, folder / "a.earlier" / name);
    for (int i = 0; i < 12; ++i) {
        file.job.name = "version " + std::to_string(i);
        store::save(file, path);
    }
    const auto earlier = store::earlier_files(path);
    REQUIRE(earlier.size() >= 5);
    for (std::size_t i = 0; i < 5; ++i)
        CHECK(store::load(earlier[i]).job.name == "version " + std::to_string(10 - static_cast<int>(i)));
}

TEST_CASE("what is made from a job is never written over it, nor over another file unasked") {
    const Folder folder;
    const fs::path source = folder / "a.dervish", other = folder / "b.csv";
    store::write_file(source, "the job");
    store::write_made(other, "one", {source}, false);
    CHECK(store::read_file(other, 100) == "one");
    CHECK_THROWS_WITH(store::write_made(other, "two", {source}, false), Catch::Contains("--force"));
    store::write_made(other, "two", {source}, true);
    CHECK(store::read_file(other, 100) == "two");
    fs::create_symlink("a.dervish", folder / "link.csv");
    fs::create_hard_link(source, folder / "twin.csv");
    for (const char* name : {"a.dervish", "link.csv", "twin.csv", "./a.dervish"})
        CHECK_THROWS_WITH(store::write_made(folder / name, "lost", {source}, true), Catch::Contains("made from"));
    CHECK(store::read_file(source, 100) == "the job");
}
