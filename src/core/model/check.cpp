#include "core/model/check.h"

#include "core/job/fields.h"
#include "core/model/acting.h"

namespace dervish::model {

void check(const Job& job) {
    for (const FieldSeen& f : fields(job)) {
        check_range(f.value->value, f.spec, units::System::Metric, f.path);
        check_sigma(f.value->sigma, f.spec, f.path);
    }
    check_cars(job);
}

void check_cars(const Job& job, const Job* before) {
    for (const auto& [name, part] : {std::pair{"fitted", &Job::fitted}, {"trial", &Job::trial}}) {
        const Setup& setup = job.*part;
        const auto known = [&, at = part](End end) {
            return before && (before->*at)[end] == setup[end] && before->vehicle[end] == job.vehicle[end];
        };
        try {
            car_with(job.vehicle, setup, 1, {known(End::Front), known(End::Rear)});
        } catch (const BadInput& e) {
            throw e.where().starts_with("vehicle/") ? e : e.within(name);
        }
    }
}

} // namespace dervish::model
