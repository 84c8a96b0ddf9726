#pragma once
#include <nlohmann/json.hpp>
#include <string>

/// Reading JSON that may be anything: counted first, so that what is too deep, too much or not sound is refused before
/// it costs time or memory.
namespace dervish::store {

inline constexpr std::size_t largest_json = 64u << 20; ///< bytes

/// Throws BadInput at "`name` line 3" unless the text is sound JSON of at most 40 levels, 2 million values, 5000 keys
/// an object, none of them twice, and texts of at most 100,000 bytes. Time and memory are linear in what was read so
/// far.
void census(const std::string& text, const std::string& name);

/// The JSON in `text` after its census; `J` is nlohmann::json or ordered_json.
template <class J> J parse_json(const std::string& text, const std::string& name) {
    census(text, name);
    return J::parse(text);
}

} // namespace dervish::store
