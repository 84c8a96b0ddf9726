#include "store/job_file.h"

#include "core/edit/parts.h"
#include "core/job/fields.h"
#include "store/json_job.h"
#include "store/parse.h"

#include <cmath>
#include <future>

namespace dervish::store {
namespace fs = std::filesystem;
namespace {
constexpr const char* job_member = "job.json";

/// Values a field does not accept become its draft, so that the window can show and mend them.
std::vector<BadInput> set_aside(job::Job& job) {
    std::vector<BadInput> out;
    const job::Job before = job;
    for (job::FieldRef& f : job::fields(job)) {
        job::Measured& m = *f.value;
        try {
            job::check_range(m.value, f.spec, units::System::Metric, f.path);
            job::check_sigma(m.sigma, f.spec, f.path);
        } catch (const BadInput& e) {
            out.push_back(e);
            job.drafts[f.path] = {job::show(m.value, f.spec, units::System::Metric), units::System::Metric};
            m.value = std::clamp(m.value, f.spec.lowest, f.spec.highest);
            m.sigma = units::as_filed(job::usual_sigma(f.spec, m.source, m.value), f.spec.quantity);
        }
    }
    edit::keep_parts(before, job);
    return out;
}
} // namespace

JobFile read_job(const std::string& bytes) {
    JobFile out;
    if (bytes.starts_with("PK")) {
        out.attachments = unpack(bytes);
        const auto at = out.attachments.find(job_member);
        if (at == out.attachments.end())
            throw BadInput(job_member, "missing from the archive", "a .dervish file holds a job.json");
        out.job = from_json(parse_json<Json>(at->second.bytes, job_member));
        out.attachments.erase(at);
    } else {
        out.job = from_json(parse_json<Json>(bytes, job_member));
    }
    out.set_aside = set_aside(out.job);
    return out;
}

JobFile load(const fs::path& path) {
    try {
        return read_job(read_file(path, largest_file));
    } catch (const BadInput& e) {
        throw e.where() == path.string() ? e : e.within(path.filename().string());
    }
}

std::string job_bytes(const JobFile& file, bool bare) {
    const Json tree = to_json(file.job);
    // Read back before anyone relies on it: what is saved is what comes back. The tree gives the job again; the text,
    // counted as a reader counts it, gives the tree again; meanwhile it is packed.
    auto comes_back = std::async(std::launch::async, [&] {
        const job::Job back = from_json(tree);
        return back == file.job || to_json(back) == tree;
    });
    const std::string text = tree.dump(1) + "\n";
    auto packed = std::async(std::launch::async, [&] {
        if (bare) return text;
        Members members = file.attachments;
        members[job_member].bytes = text;
        return pack(members);
    });
    const bool reads_back = parse_json<Json>(text, job_member) == tree;
    std::string bytes = packed.get();
    if (!comes_back.get() || !reads_back)
        throw BadInput(job_member, "would not come back as it is",
                       "the last change is not one that can be kept; undo it");
    return bytes;
}

void save(const JobFile& file, const fs::path& path) {
    write_file(path, job_bytes(file, path.extension() == ".json"), true);
}

} // namespace dervish::store
