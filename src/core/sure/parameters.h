#pragma once
#include "core/job/fields.h"
#include "core/model/model.h"

#include <functional>

namespace dervish::sure {
using namespace job;

/// The inputs of a car that are not sure, to be moved one at a time or all together: what bands, draws and fits are
/// made of. An input that stands at both ends (job::Input) moves at both.
/// Example: Parameters p(job.vehicle, job.trial); p.set(0, p.value(0) + p.sigma(0)); assess(p.vehicle(), p.setup()).
class Parameters {
public:
    /// `bears`: which of them count, by path; all without it.
    Parameters(const Vehicle& vehicle, const Setup& setup,
               const std::function<bool(const std::string& path)>& bears = {});
    Parameters(const Parameters&) = delete; // they point into the job within

    std::size_t count() const { return inputs_.size(); }
    double value(std::size_t i) const { return values_[i]; }          ///< as the car has it, SI
    double now(std::size_t i) const { return field(i).value->value; } ///< as set
    double sigma(std::size_t i) const { return field(i).value->sigma; }
    Source source(std::size_t i) const { return field(i).value->source; }
    const std::string& path(std::size_t i) const { return field(i).path; }
    const FieldSpec& spec(std::size_t i) const { return field(i).spec; }
    std::string label(std::size_t i) const; ///< "Front axle, track"
    bool accepts(std::size_t i, double to) const;
    void set(std::size_t i, double to);
    void reset(std::size_t i) { set(i, values_[i]); }

    const Vehicle& vehicle() const { return job_.vehicle; } ///< as set
    const Setup& setup() const { return job_.trial; }

private:
    const FieldRef& field(std::size_t i) const { return inputs_[i].field; }
    Job job_;
    std::vector<Input> inputs_;
    std::vector<double> values_;
};

} // namespace dervish::sure
