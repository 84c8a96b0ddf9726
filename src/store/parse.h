#pragma once
#include <nlohmann/json.hpp>
#include <string>

/// Reading JSON that may be anything: what is too deep, too much or not sound is refused before it costs time or
/// memory.
namespace dervish::store {

inline constexpr std::size_t largest_json = 64u << 20; ///< bytes

/// The JSON in `text`, counted while it is read; `J` is nlohmann::json or ordered_json. Throws BadInput at "`name` line
/// 3" unless it is sound, of at most 40 levels, 2 million values, 20,000 keys an object, none of them twice, and texts
/// of at most 100,000 bytes. Time and memory are linear in what was read so far.
template <class J> J parse_json(const std::string& text, const std::string& name);

} // namespace dervish::store
