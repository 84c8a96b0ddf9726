#pragma once
#include "core/num/solves.h"

#include <algorithm>
#include <atomic>
#include <cstddef>
#include <future>
#include <system_error>
#include <thread>
#include <vector>

namespace dervish {

/// Calls `work(own, i)` once for each i below `count`, in no order, on as many threads as the machine has processors,
/// four at most. Each thread has an `own` to itself: the caller's is given, every other one makes its own. Waits for
/// all; what one throws ends the others' work and is thrown on.
/// Example: share_out(n, inputs, [&] { return Parameters(v, s); }, [&](Parameters& in, std::size_t i) { f(in, i); }).
template <class Own, class Make, class Work>
void share_out(std::size_t count, Own& own, const Make& make, const Work& work) {
    std::atomic<std::size_t> next = 0;
    const auto take_from = [&](Own& mine) {
        try {
            for (std::size_t i = next++; i < count; i = next++) work(mine, i);
        } catch (...) {
            next = count;
            throw;
        }
    };
    const std::size_t hands = std::clamp<std::size_t>(std::thread::hardware_concurrency(), 1, 4);
    std::vector<std::future<unsigned long>> others;
    try {
        for (std::size_t hand = 1; hand < std::min(hands, count); ++hand)
            others.push_back(std::async(std::launch::async, [&] {
                Own mine = make();
                take_from(mine);
                return solves;
            }));
    } catch (const std::system_error&) { // no more threads to be had: those there are do it
    }
    take_from(own);
    for (auto& other : others) solves += other.get();
}

} // namespace dervish
