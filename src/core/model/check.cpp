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

void check_cars(const Job& job) {
    for (const auto& [name, setup] : {std::pair{"fitted", &job.fitted}, {"trial", &job.trial}}) {
        try {
            car_with(job.vehicle, *setup);
        } catch (const BadInput& e) {
            throw e.where().starts_with("vehicle/") ? e : e.within(name);
        }
    }
}

} // namespace dervish::model
