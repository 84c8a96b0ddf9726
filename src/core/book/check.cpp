#include "core/book/check.h"

#include "core/job/torque.h"
#include "core/num/bad_input.h"

#include <algorithm>

namespace dervish::book {
using namespace job;

void check(const Job& job) {
    const auto place = [](const char* list, std::size_t i) { return std::string(list) + "/" + std::to_string(i); };
    for (std::size_t i = 0; i < job.torques.size(); ++i)
        told_within(place("torques", i), [&] { return check_fastener(job.torques[i]); });
    for (std::size_t i = 0; i < job.upkeep.size(); ++i)
        if (job.upkeep[i].every < 0 || job.upkeep[i].days < 0)
            throw BadInput(place("upkeep", i), "an interval below 0", "0 where it is not by that");
    for (std::size_t i = 0; i < job.people.size(); ++i)
        if (job.people[i].mass < 0 || job.people[i].mass > 300)
            throw BadInput(place("people", i) + "/mass_kg", "not the weight of a person", "0 (not said) to 300");
    for (std::size_t i = 0; i < job.part_records.size(); ++i) {
        const std::vector<int>& looked = job.part_records[i].looked;
        if (looked.size() > look_count || std::ranges::any_of(looked, [](int l) { return l < 0 || l > 2; }))
            throw BadInput(place("part_records", i) + "/looked", "not usable",
                           "at most " + std::to_string(look_count) + " numbers from 0 to 2");
    }
    if (job.sheet.minutes < 0) throw BadInput("sheet/minutes", "below 0", "0 where it is not said");
    const auto& book = job.book.read();
    for (std::size_t i = 0; i < book.size(); ++i) {
        if (book[i].odometer < 0 || book[i].more.driven_so < 0)
            throw BadInput(place("book", i), "a distance below 0", "0 where it is not said");
        for (const Impression& m : book[i].more.marks)
            if (!(m.mark >= 0 && m.mark <= 10))
                throw BadInput(place("book", i) + "/more/marks", "a mark beyond its scale", "0 to 10");
    }
}

} // namespace dervish::book
