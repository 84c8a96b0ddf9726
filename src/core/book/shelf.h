#pragma once
#include "core/book/story.h"

/// All parts of a job as things: which are on the car, which lie on the shelf, which are only drawn up.
namespace dervish::book {

struct Thing {
    std::string id, kind;   ///< kind as the job file has it: "bar", "mounts"
    Part part;              ///< name, origin, notes, price, mass
    std::optional<End> end; ///< of one that is on an axle of the car
    bool on_car = false, on_trial = false;
    bool was_on_car = false;                      ///< by the book
    Whereabouts whereabouts = Whereabouts::Shelf; ///< of one that is not on the car: as said, else drawn up where no
                                                  ///< entry has had it on the car and it lies on no shelf
    PartRecord record;
};
/// Each once: those on the car first, then by kind as they stand in the job.
std::vector<Thing> things(const Job& job);

/// Where a thing is, in the book's words: entries that are about it, by their places in the book, the oldest first.
std::vector<int> history_of(const Job& job, const std::string& id);

} // namespace dervish::book
