#include "core/model/check.h"

#include "core/job/fields.h"
#include "core/model/acting.h"

namespace dervish::model {

void check(const Job& job) {
    Job copy = job; // fields() hands out places to write; this one only reads them
    for (const FieldRef& f : fields(copy)) {
        check_range(f.value->value, f.spec, units::System::Metric, f.path);
        check_sigma(f.value->sigma, f.spec, f.path);
    }
    for (const auto& [name, setup] : {std::pair{"fitted", &job.fitted}, {"trial", &job.trial}}) {
        try {
            car_with(job.vehicle, *setup);
        } catch (const BadInput& e) {
            throw e.where().starts_with("vehicle/") ? e : e.within(name);
        }
    }
}

} // namespace dervish::model
