#pragma once
#include "core/job/job.h"
#include "store/archive.h"
#include "store/file.h"

#include <filesystem>
#include <vector>

namespace dervish::store {

/// A job with whatever else its file holds (logs, photos), which is carried along unchanged.
struct JobFile {
    job::Job job;
    Members attachments;
    /// What stands in the file and cannot be, by its place; each is now a draft of its field.
    std::vector<BadInput> set_aside{};
};

/// Most bytes of a job without what lies with it, and of photographs and files in all.
inline constexpr std::size_t largest_file = 256u << 20, most_attached = 1500u << 20;

/// Reads a .dervish file (ZIP with job.json) or a bare job.json. Throws BadInput naming the file and the place in it
/// ("hut-van.dervish/job.json/vehicle/front/track_mm") for anything that is not a sound job. Values and spreads out of
/// range are not refused: they are set aside as drafts of the fields they belong to, so that the rest opens.
JobFile load(const std::filesystem::path& path);
/// What an earlier version (earlier_files) names and does not hold is taken from the file that it is of.
/// The same from a file's bytes; the places begin inside it.
JobFile read_job(const std::string& bytes);

/// The bytes of a .dervish file, or of a bare job.json. Throws BadInput at "job.json" for a job that would not come
/// back as it is.
std::string job_bytes(const JobFile& file, bool bare);

/// Writes by write_archive (a bare job.json by write_file), which keeps what was there among earlier_files(path), and
/// returns the attachments as they stand there now. Throws BadInput when it cannot be written; the old file then
/// stands.
Members save(const JobFile& file, const std::filesystem::path& path);

} // namespace dervish::store
