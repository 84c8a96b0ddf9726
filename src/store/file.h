#pragma once
#include <cstdint>
#include <filesystem>
#include <functional>
#include <optional>
#include <string>
#include <vector>

/// Files as a careful person treats them: read only what is a file and not too large, written whole or not at all.
namespace dervish::store {

/// A regular file opened to be read; its bytes stay what they were while it is open, whatever takes its name meanwhile.
/// Any thread may read. Throws BadInput at the path for anything else; a pipe or device is never waited for.
class OpenFile {
public:
    OpenFile(const std::filesystem::path& path, std::size_t largest);
    ~OpenFile();
    OpenFile(const OpenFile&) = delete;
    OpenFile& operator=(const OpenFile&) = delete;
    std::size_t size() const { return size_; } ///< when it was opened
    const std::filesystem::path& path() const { return path_; }
    std::string read(std::size_t from, std::size_t count) const; ///< throws BadInput
    bool begins_with(std::string_view bytes) const { return size_ >= bytes.size() && read(0, bytes.size()) == bytes; }
    std::filesystem::path again() const; ///< a path by which this very file is opened anew while this one is open
    bool is(const std::filesystem::path& other) const; ///< whether `other` names this very file now
    bool is(const OpenFile& other) const { return device_ == other.device_ && inode_ == other.inode_; }

private:
    std::filesystem::path path_;
    int file_;
    std::size_t size_ = 0;
    std::uint64_t device_ = 0, inode_ = 0;
};

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
/// The same, of what `write` puts out piece by piece; what that throws leaves the old file as it was.
using Sink = std::function<void(std::string_view)>;
void write_file(const std::filesystem::path& path, const std::function<void(const Sink&)>& write, bool keep_earlier);

/// write_file() for what was made out of other files: never over one of these, and over any other only where it may
/// `replace`. Throws BadInput at the path.
void write_made(const std::filesystem::path& path, const std::string& bytes,
                const std::vector<std::filesystem::path>& out_of, bool replace);
/// What write_made() would refuse before it writes, so that nothing is worked out in vain.
void check_made(const std::filesystem::path& path, const std::vector<std::filesystem::path>& out_of, bool replace);

/// Writes behind the last byte of a file that is `size` bytes long, and flushes: the bytes before stay as they are, and
/// a kill leaves a part of what is new behind them. Throws BadInput at the path where it cannot be; returns whether the
/// file still had that size and nobody else wrote to it.
bool append_to_file(const std::filesystem::path& path, std::size_t size, const std::function<void(const Sink&)>& write);

/// Earlier versions that write_file kept, newest first: in a folder "NAME.earlier" beside the file, named by a number
/// that counts up, date and time (UTC): "0017 2031-05-11 23.45.01.250.dervish". By the number, not by a clock that may
/// have been wrong. The last five stay, and the last of each of seven days before.
std::vector<std::filesystem::path> earlier_files(const std::filesystem::path& path);
/// The file whose earlier version `path` is, or would be by its name; nothing where it is none.
std::optional<std::filesystem::path> later_file(const std::filesystem::path& path);
/// Keeps these bytes as an earlier version of `path`, as write_file would keep the file itself.
void keep_earlier(const std::filesystem::path& path, const std::string& bytes);

/// What tells one writing of a file from the next.
struct Stamp {
    std::uint64_t device = 0, inode = 0, size = 0;
    std::int64_t modified = 0; ///< ns
    bool operator==(const Stamp&) const = default;
};
/// Of the file that `path` names now; all 0 when there is none.
Stamp stamp_of(const std::filesystem::path& path);

} // namespace dervish::store
