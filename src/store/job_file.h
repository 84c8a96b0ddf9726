#pragma once
#include "core/job/job.h"
#include "store/archive.h"

#include <filesystem>

namespace dervish::store {

/// A job with whatever else its file holds (logs, photos), which is carried along unchanged.
struct JobFile {
    job::Job job;
    Members attachments;
};

/// Largest file that is opened at all.
inline constexpr std::size_t largest_file = 512u << 20;

/// Reads a .dervish file (ZIP with job.json) or a bare job.json. Throws BadInput naming the file and the place in it
/// ("hut-van.dervish/job.json/vehicle/front/track_mm") for anything that is not a sound job. Values out of range are
/// not refused: they are set aside as drafts of the fields they belong to, so that the rest opens.
JobFile load(const std::filesystem::path& path);

/// Writes beside `path`, flushes, keeps the previous file as `backup_of(path)` and renames into place: at every moment
/// `path` is either the old or the new file, whole. Throws BadInput when it cannot be written; the old file then
/// stands.
void save(const JobFile& file, const std::filesystem::path& path);

std::filesystem::path backup_of(const std::filesystem::path& path);

} // namespace dervish::store
