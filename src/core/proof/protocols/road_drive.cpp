#include "core/proof/asking.h"

namespace dervish::proof {

Protocol road_drive() {
    return {"road_drive",
            "A drive that is rated",
            Sort::Felt,
            "What people feel on the same road, phase by phase. Nothing is predicted for it: feelings are set beside "
            "the sum.",
            {},
            {},
            {"one road, driven both ways", "the same load and pressures for every setup"},
            {"Everybody drives every setup in the order given, within the law and the road.",
             "Marks are typed at once after each run, before anybody talks."},
            "The same piece of road both ways.",
            "Within the law: limits of grip belong on a closed course.",
            {},
            [](const Settings&) -> Answers { return [](const Asked&) { return std::vector<double>{}; }; }};
}

} // namespace dervish::proof
