#include "core/num/share_out.h"

#include <catch2/catch.hpp>

#include <chrono>
#include <mutex>
#include <set>
#include <stdexcept>

using dervish::share_out;

namespace {
struct Own {
    unsigned long sum = 0;
};
} // namespace

TEST_CASE("work shared out is done once each, every thread with its own, and what it solved is counted") {
    for (const std::size_t count : {std::size_t{0}, std::size_t{1}, std::size_t{1000}}) {
        std::vector<int> done(count, 0);
        std::set<std::pair<std::thread::id, const Own*>> who;
        std::mutex door;
        Own mine;
        const unsigned long before = dervish::solves;
        share_out(
            count, mine, [] { return Own{}; },
            [&](Own& own, std::size_t i) {
                ++done[i];
                ++dervish::solves;
                own.sum += i;
                const std::lock_guard guard(door);
                who.emplace(std::this_thread::get_id(), &own);
            });
        CHECK(done == std::vector<int>(count, 1));
        CHECK(dervish::solves - before == count);
        std::set<std::thread::id> threads;
        std::set<const Own*> owns;
        for (const auto& [thread, own] : who) {
            threads.insert(thread);
            owns.insert(own);
        }
        CHECK(threads.size() == who.size());
        CHECK(owns.size() == who.size());
        CHECK(who.size() <= 4);
    }
}

TEST_CASE("what is thrown in work shared out arrives, on whichever thread it was, and ends the rest") {
    Own mine;
    std::atomic<std::size_t> done = 0;
    const auto run = [&](const auto& throws) {
        done = 0;
        share_out(
            100000, mine, [] { return Own{}; },
            [&](Own&, std::size_t i) {
                if (throws(i)) throw std::runtime_error("of " + std::to_string(i));
                ++done;
            });
    };
    CHECK_THROWS_WITH(run([](std::size_t i) {
                          std::this_thread::sleep_for(std::chrono::microseconds(20)); // or all is done before it throws
                          return i == 17;
                      }),
                      "of 17");
    CHECK(done < 100000 - 1);
    const auto here = std::this_thread::get_id();
    if (std::thread::hardware_concurrency() > 1) {
        std::atomic<bool> other = false; // the caller's own share waits until another thread has thrown
        CHECK_THROWS_WITH(run([&](std::size_t) {
                              if (std::this_thread::get_id() != here) return !other.exchange(true);
                              while (!other) std::this_thread::yield();
                              return false;
                          }),
                          Catch::Matchers::StartsWith("of "));
        CHECK(other);
    }
    run([](std::size_t) { return false; });
    CHECK(done == 100000);
}
