#pragma once
#include <cstdint>
#include <filesystem>
#include <string>
#include <vector>

/// Files as a careful person treats them: read only what is a file and not too large, written whole or not at all.
namespace dervish::store {

/// The bytes of a regular file of at most `largest` bytes. Throws BadInput at the path for anything else; a pipe or
/// device is never waited for.
std::string read_file(const std::filesystem::path& path, std::size_t largest);

/// Writes beside `path` under a name of its own that no one else can hold, flushes, and renames into place: at every
/// moment `path` is the old file or the new one, whole, and nothing is left beside it whatever fails (a kill in the
/// instant before the rename apart). A link is
/// followed to the file it names; permissions and group of that file are kept. With `keep_earlier`, the file that was
/// there is kept among earlier_files(path). Throws BadInput at the path when it cannot be written or must not be
/// (read-only, a folder, a pipe); what was there then stands.
void write_file(const std::filesystem::path& path, const std::string& bytes, bool keep_earlier = false);

/// Earlier versions that write_file kept, newest first: in a folder "NAME.earlier" beside the file, named by date and
/// time (UTC). The last five stay, and the last of each of seven days before.
std::vector<std::filesystem::path> earlier_files(const std::filesystem::path& path);

/// What tells one writing of a file from the next.
struct Stamp {
    std::uint64_t device = 0, inode = 0, size = 0;
    std::int64_t modified = 0; ///< ns
    bool operator==(const Stamp&) const = default;
};
/// Of the file that `path` names now; all 0 when there is none.
Stamp stamp_of(const std::filesystem::path& path);

} // namespace dervish::store
