#pragma once
#include <string>

namespace dervish::say {

/// Words as they stand in HTML.
inline std::string in_html(const std::string& words) {
    std::string out;
    for (const char c : words)
        out += c == '<' ? std::string("&lt;") : c == '>' ? "&gt;" : c == '&' ? "&amp;" : std::string(1, c);
    return out;
}

} // namespace dervish::say
