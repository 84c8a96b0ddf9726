#pragma once
#include <cstdint>
#include <ctime>
#include <map>
#include <string>

namespace dervish::store {

/// One file of a ZIP, with what its outside says of it.
struct Member {
    std::string bytes;
    std::time_t modified = 0;     ///< 0: when it is packed
    std::uint32_t attributes = 0; ///< permissions, as ZIP has them
    std::uint8_t system = 3;      ///< on which they mean that; 3: Unix
    bool operator==(const Member&) const = default;
};

/// A ZIP's members by name.
using Members = std::map<std::string, Member>;

/// Most bytes a member, and all members together, may unpack to.
inline constexpr std::size_t largest_member = 128u << 20, largest_archive = 256u << 20;

/// Throws BadInput at the member's name when the archive is damaged, over-large, encrypted, has unsafe names
/// or one twice.
Members unpack(const std::string& bytes);

/// A ZIP with these members.
std::string pack(const Members& members);

} // namespace dervish::store
