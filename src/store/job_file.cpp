#include "store/job_file.h"

#include "core/edit/parts.h"
#include "core/job/fields.h"
#include "core/job/limits.h"
#include "store/json_job.h"
#include "store/parse.h"

#include <cmath>
#include <future>
#include <limits>

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

namespace {
JobFile of_members(Members members) {
    JobFile out;
    const auto at = members.find(job_member);
    if (at == members.end()) throw BadInput(job_member, "missing from the archive", "a .dervish file holds a job.json");
    out.job = from_json(parse_json<Json>(at->second.content.bytes(), job_member));
    members.erase(at);
    out.attachments = std::move(members);
    return out;
}

/// An earlier version has its photographs where they are kept: in the file that it is of.
void take_from_later(JobFile& file, const fs::path& path) {
    const auto later = later_file(path);
    std::error_code error;
    if (!later || !fs::is_regular_file(*later, error)) return;
    try {
        std::optional<Members> all;
        for (const job::Entry& e : file.job.book)
            for (const job::AttachedFile& f : e.more.files) {
                if (file.attachments.contains(f.file)) continue;
                if (!all) all = open_archive(*later);
                if (const auto at = all->find(f.file); at != all->end() && f.file != job_member)
                    file.attachments.insert(*at);
            }
    } catch (const BadInput&) { // the job is whole without them
    }
}

/// The job as text, read back before anyone relies on it: what is saved is what comes back. The tree gives the job
/// again; the text, counted as a reader counts it, gives the tree again.
std::string checked_text(const job::Job& job) {
    job::check_limits(job);
    const Json tree = to_json(job);
    auto comes_back = std::async(std::launch::async, [&] {
        const job::Job back = from_json(tree);
        return back == job || to_json(back) == tree;
    });
    std::string text = tree.dump(1) + "\n";
    const bool reads_back = parse_json<Json>(text, job_member) == tree;
    if (!comes_back.get() || !reads_back)
        throw BadInput(job_member, "would not come back as it is",
                       "the last change is not one that can be kept; undo it");
    return text;
}

Members members_of(const JobFile& file) {
    Members out = file.attachments;
    out[job_member] = {checked_text(file.job)};
    return out;
}
} // namespace

JobFile read_job(const std::string& bytes) {
    JobFile out = bytes.starts_with("PK") ? of_members(unpack(bytes))
                                          : JobFile{from_json(parse_json<Json>(bytes, job_member)), {}};
    out.set_aside = set_aside(out.job);
    return out;
}

JobFile load(const fs::path& path) {
    try {
        if (OpenFile(path, std::numeric_limits<std::size_t>::max()).begins_with("PK")) {
            JobFile out = of_members(open_archive(path, job_member));
            out.set_aside = set_aside(out.job);
            take_from_later(out, path);
            return out;
        }
        return read_job(read_file(path, largest_file));
    } catch (const BadInput& e) {
        throw e.where() == path.string() ? e : e.within(path.filename().string());
    }
}

std::string job_bytes(const JobFile& file, bool bare) { return bare ? checked_text(file.job) : pack(members_of(file)); }

Members save(const JobFile& file, const fs::path& path) {
    if (path.extension() == ".json") {
        write_file(path, job_bytes(file, true), true);
        return file.attachments;
    }
    Members out = write_archive(path, members_of(file), true);
    out.erase(job_member);
    return out;
}

} // namespace dervish::store
