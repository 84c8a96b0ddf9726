#pragma once
#include <map>
#include <string>

namespace dervish::store {

/// A ZIP's members by name.
using Members = std::map<std::string, std::string>;

/// Most bytes a member, and all members together, may unpack to.
inline constexpr std::size_t largest_member = 256u << 20, largest_archive = 512u << 20;

/// Throws BadInput at the member's name when the archive is damaged, over-large, encrypted or has unsafe names.
Members unpack(const std::string& bytes);

/// A ZIP with these members.
std::string pack(const Members& members);

} // namespace dervish::store
