#pragma once
#include "store/file.h"

#include <cstdint>
#include <ctime>
#include <map>
#include <memory>
#include <string>

/// ZIP archives whose large members stay on disk: a job with its photographs. Thread-safe: any thread may read a
/// content, and write another archive.
namespace dervish::store {

/// The bytes of a member: in memory, or where they stand in a file that is kept open, read when they are asked for.
/// Copies share them.
class Content {
public:
    Content() : memory_(std::make_shared<const std::string>()) {}
    Content(std::string bytes) : memory_(std::make_shared<const std::string>(std::move(bytes))) {}
    Content(const char* bytes) : Content(std::string(bytes)) {}
    std::size_t size() const { return memory_ ? memory_->size() : place_.size; }
    bool in_memory() const { return memory_ != nullptr; }
    /// Throws BadInput where the disk no longer gives them as they were.
    std::string bytes() const;
    bool operator==(const Content& other) const;

    /// Where a member stands: in an archive that ends at `end` of its file.
    struct Place {
        std::shared_ptr<const OpenFile> file{};
        std::size_t end = 0;
        std::string name{};
        std::size_t size = 0, packed = 0;
        std::uint32_t crc = 0;
        std::uint16_t method = 0;
        bool operator==(const Place& other) const {
            return file && other.file && file->is(*other.file) && name == other.name && size == other.size &&
                   packed == other.packed && crc == other.crc && method == other.method;
        }
    };
    Content(Place place) : place_(std::move(place)) {}
    const Place& place() const { return place_; } ///< of one that is not in memory

private:
    std::shared_ptr<const std::string> memory_;
    Place place_;
};

/// One file of a ZIP, with what its outside says of it.
struct Member {
    Content content;
    std::time_t modified = 0;     ///< 0: when it is packed
    std::uint32_t attributes = 0; ///< permissions, as ZIP has them
    std::uint8_t system = 3;      ///< on which they mean that; 3: Unix
    bool operator==(const Member&) const = default;
};

/// A ZIP's members by name.
using Members = std::map<std::string, Member>;

/// Most bytes a member may unpack to, and all together: of an archive in memory, and of one on disk.
inline constexpr std::size_t largest_member = 128u << 20, largest_archive = 256u << 20, largest_on_disk = 2000u << 20;

/// Throws BadInput at the member's name when the archive is damaged, over-large, encrypted, has unsafe names
/// or one twice.
Members unpack(const std::string& bytes);

/// The members of the archive at `path`; those of more than 64 KiB, but for `at_once`, stay on disk. What a kill left
/// behind its end is passed by. Throws BadInput as unpack(), or at the path.
Members open_archive(const std::filesystem::path& path, const std::string& at_once = {});

/// A ZIP with these members.
std::string pack(const Members& members);

/// Brings the archive at `path` to these members and no others, and returns them as they stand there. It is written as
/// write_file does; but where it holds large members already, they stay where they are and what is new is written
/// behind it with a new directory, which takes no longer than what is new. What was replaced stays in the file until it
/// is a quarter of it. With `keep_earlier`, members that were replaced (all where it is written anew) are kept among
/// earlier_files(path). Throws BadInput at the path; the old file then stands.
Members write_archive(const std::filesystem::path& path, const Members& members, bool keep_earlier = false);

} // namespace dervish::store
