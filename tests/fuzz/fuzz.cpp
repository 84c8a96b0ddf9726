#include "core/job/fields.h"
#include "core/job/stock.h"
#include "core/num/bad_input.h"
#include "core/study/choices.h"
#include "core/units/entry.h"
#include "store/centreline_csv.h"
#include "store/job_file.h"
#include "store/json_job.h"
#include "store/parse.h"
#include "store/reference.h"

#include <cmath>
#include <cstdlib>

using namespace dervish;

/// One reader a program, chosen by the macro READER: any bytes are read or refused in words; what is read is finite,
/// and a job that is read is written and read again the same. A fault is what the sanitizers or abort() say.
namespace {
void require(bool holds) {
    if (!holds) std::abort();
}

void read_with_job(const std::string& bytes) {
    const store::JobFile file = store::read_job(bytes);
    const std::string text = store::job_bytes({file.job, {}}, true);
    require(store::job_bytes(store::read_job(text), true) == text);
}

void read_with_archive(const std::string& bytes) {
    const store::Members members = store::unpack(bytes);
    const store::Members again = store::unpack(store::pack(members));
    for (const auto& [name, member] : members) require(again.at(name).content == member.content);
}

void read_with_csv(const std::string& bytes) {
    for (const job::PointData& p : store::read_centreline(bytes))
        require(std::isfinite(p.x.value) && std::isfinite(p.outer_diameter.value));
}

void read_with_stock(const std::string& bytes) {
    for (const job::StockSize& s : job::parse_stock(bytes, units::System::Metric))
        require(s.wall >= 0 && s.wall <= s.outer_diameter / 2);
}

void read_with_entry(const std::string& bytes) {
    for (const auto system : {units::System::Metric, units::System::Inch})
        for (const double v : units::read_entry(bytes, units::Quantity::Length, system).values)
            require(std::isfinite(v));
    units::read_entry(bytes, units::Quantity::TorsionalRate, units::System::Inch);
}

void read_with_reference(const std::string& bytes) {
    store::check_reference(store::parse_json<nlohmann::json>(bytes, "file"));
}
} // namespace

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, std::size_t size) {
    try {
        READER(std::string(reinterpret_cast<const char*>(data), size));
    } catch (const BadInput&) {
    }
    return 0;
}
