#pragma once
#include "core/job/test.h"

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

/// The book as it stands in the job: what was done and why, what broke, who said what, what is due, and what is known
/// of each part as a thing that is bought, fitted and worn. Dates are "2031-05-11"; distances m driven.
namespace dervish::job {

enum class EntryKind {
    Fitted,
    Found, ///< that the car stood otherwise than the book had it
    Failed,
    Serviced,
    Decided,
    Noted,
    Removed,
    Felt,  ///< rated again after a while
    Driven ///< a day of a use that wears
};

/// What wears more than the road does.
enum class Wears { Road, Track, Rocks, Water };

/// A file that goes with an entry: its name among the job's attached files.
struct AttachedFile {
    std::string file, words;
    bool operator==(const AttachedFile&) const = default;
};

/// What an entry said before it was corrected.
struct Corrected {
    std::string on; ///< date of the correction
    std::string date, reason;
    double odometer = 0;
    bool operator==(const Corrected&) const = default;
};

/// What belongs to any entry of the book beside when, what and why.
struct EntryMore {
    std::string person;            ///< who did, saw or felt it
    std::string entered;           ///< date it was written, where that is later
    std::string struck;            ///< why it does not count any more; empty: it stands
    std::string noticed;           ///< of a failure: what it was like to drive until it was found
    double driven_so = 0;          ///< of a failure: how far it was driven before it was found, m
    std::string task;              ///< of a service: id of the upkeep it was
    Wears wears = Wears::Road;     ///< of a day driven
    std::string look_again;        ///< date on which to ask how it feels
    std::vector<Impression> marks; ///< as in a test's runs
    std::vector<AttachedFile> files;
    std::vector<Corrected> corrected; ///< the oldest first
    double minutes = 0;               ///< that a job took by its sheet; 0: not said
    std::vector<std::string> steps{}; ///< of the sheet that were ticked, by their keys
    bool operator==(const EntryMore&) const = default;
};

/// Somebody who drives or rides: aboard as a load where they have one.
struct Person {
    std::string name;
    double mass = 0;     ///< kg; 0: not said
    std::string load;    ///< id of the car's load that they are; empty: none
    std::string accepts; ///< what they live with, in their words
    bool operator==(const Person&) const = default;
};

/// Something to be done again and again. 0: not by that.
struct Upkeep {
    std::string id, what;
    std::string of;   ///< "front/links": what is on an axle, by its key; empty: nothing single
    double every = 0; ///< m driven
    double days = 0;
    Wears after = Wears::Road; ///< after each day of that use; Road: not by use
    std::string since;         ///< date from which it counts before it was first done
    double since_odometer = 0; ///< m
    bool operator==(const Upkeep&) const = default;
};

/// A fastener: its spanner and number, its torque as the maker gives it, typed with where it stands, and what is put
/// between wrench and fastener.
struct Torque {
    std::string of, source; ///< "front clamps"; "workshop book, page 7"
    double moment = 0;      ///< N·m; 0: not known here
    double wrench = 0;      ///< length of the wrench from its head to the middle of its grip, m; 0: no adapter
    double adapter = 0;     ///< from the wrench's head to the fastener, m
    double angle = 0;       ///< between the two, 0 in line, rad
    std::string size{};     ///< of the spanner: "17 mm"; empty: not said
    int count = 0;          ///< how many there are of it; 0: not said
    bool operator==(const Torque&) const = default;
};

/// The sheet under the car as it is being worked through: which steps are done, by their keys.
struct SheetDone {
    std::string of; ///< which Fitted and Trial they are of; see edit::sheet_now()
    std::vector<std::string> steps;
    double minutes = 0; ///< by the shop's own clock; 0: not said
    bool operator==(const SheetDone&) const = default;
};

/// Where a part is that is not on the car. Shelf: at hand.
enum class Whereabouts { Shelf, DrawnUp, Ordered, Sold, Scrapped };

/// How a look at a used part came out.
enum class Looked { NotYet, Good, Bad };

/// What is looked at on a used part, in that order: straight on a flat table, rust where the mounts sit, eyes or bores
/// oval, threads, joints.
inline constexpr int look_count = 5;

/// What the shelf knows of a part beside what stands with it, by its id.
struct PartRecord {
    std::string id;
    Whereabouts whereabouts = Whereabouts::Shelf;
    std::string mark, sizes; ///< by which it is known; of studs and bores
    std::vector<int> looked; ///< of Looked, look_count of them; fewer: not yet
    bool operator==(const PartRecord&) const = default;
};

} // namespace dervish::job
