#include "core/sure/parameters.h"

#include <cctype>

namespace dervish::sure {

Parameters::Parameters(const Vehicle& vehicle, const Setup& setup,
                       const std::function<bool(const std::string&)>& bears) {
    job_.vehicle = vehicle;
    job_.trial = setup;
    for (Input& i : inputs(job_))
        if (!bears || bears(i.field.path)) {
            values_.push_back(i.field.value->value);
            inputs_.push_back(std::move(i));
        }
}

std::string Parameters::label(std::size_t i) const {
    const FieldRef& f = field(i);
    const std::string of = inputs_[i].twin ? "both ends" : f.group;
    return (of.empty() ? "" : of + ", ") + static_cast<char>(std::tolower(f.spec.label[0])) + (f.spec.label + 1);
}

bool Parameters::accepts(std::size_t i, double to) const {
    const FieldSpec& spec = field(i).spec;
    return (to >= spec.lowest && to <= spec.highest) || (spec.word && to == spec.word_value);
}

void Parameters::set(std::size_t i, double to) {
    field(i).value->value = to;
    if (inputs_[i].twin) inputs_[i].twin->value->value = to;
}

} // namespace dervish::sure
