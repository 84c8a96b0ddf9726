#include "core/say/proof_words.h"

namespace dervish::say {

std::string words_of(proof::Agreement a) {
    switch (a) {
    case proof::Agreement::NothingRead:
        return "nothing read yet";
    case proof::Agreement::CannotTell:
        return "cannot tell";
    case proof::Agreement::TooWide:
        return "too wide to tell";
    case proof::Agreement::Agrees:
        return "agrees";
    case proof::Agreement::Doubtful:
        return "doubtful";
    case proof::Agreement::Disagrees:
        return "disagrees";
    }
    return {};
}

std::string words_of(const proof::Suspect& s, bool both_arms, units::System system) {
    using What = proof::Suspect::What;
    using units::Quantity;
    const bool metric = units::shown(Quantity::Length, system).symbol == "mm";
    const auto not_as_taken = [&](const char* what, Quantity quantity, int decimals) {
        return what + (" " + units::text(s.value, quantity, system, decimals)) + ", not " +
               units::fixed(s.assumed / units::shown(quantity, system).factor, decimals);
    };
    switch (s.what) {
    case What::Diameter:
        return not_as_taken("diameter", Quantity::Length, metric ? 2 : 4);
    case What::Mount:
        return not_as_taken("each mount", Quantity::Rate, 0);
    case What::Arm:
        return not_as_taken("arm to the eye", Quantity::Length, metric ? 0 : 2);
    case What::BetweenArms:
        return not_as_taken("between the arms", Quantity::Length, metric ? 0 : 2);
    case What::Tube:
        return "it is a tube, wall " + units::text(s.value, Quantity::Length, system, metric ? 1 : 3);
    case What::OtherLoading:
        break;
    }
    return both_arms ? "one arm was held: that rate is near half" : "both arms moved: that rate is near twice";
}

} // namespace dervish::say
