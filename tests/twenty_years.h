#pragma once
#include "core/job/dates.h"
#include "core/job/job.h"

/// What a workshop that kept its book for long has: for tests and for the bench.
namespace tests {
using namespace dervish;

/// A book of 20 years: entries, setups that stood, tests.
inline job::Job twenty_years(job::Job j, int entries = 5000) {
    const auto seed = j.tests.read();
    for (int i = 0; j.tests.size() < 200; ++i) {
        job::PlannedTest t = seed[static_cast<std::size_t>(i) % seed.size()];
        t.name += ", year " + std::to_string(i);
        j.tests.push_back(t);
    }
    for (int i = 0; static_cast<int>(j.book.size()) < entries; ++i) {
        job::Entry e{job::date_of(22400 + 7300 * i / entries),
                     static_cast<job::EntryKind>(i % 9),
                     "something was done, number " + std::to_string(i),
                     (41200.0 + 40 * i) * 1000,
                     {},
                     {},
                     {}};
        e.more.person = i % 3 ? "Marit" : "Oke";
        if (i % 16 == 0) {
            e.kind = job::EntryKind::Fitted;
            e.car = job::Snapshot{j.vehicle, j.fitted};
            double& rate = e.car->setup.front.springs.rate.value;
            rate = units::as_filed(rate * (1 + 1e-4 * i), units::Quantity::Rate);
        }
        j.book.push_back(std::move(e));
    }
    return j;
}

} // namespace tests
