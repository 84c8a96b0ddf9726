#pragma once
#include <string>
#include <utility>

namespace dervish::say {

/// Words as they stand in HTML.
inline std::string in_html(const std::string& words) {
    std::string out;
    for (const char c : words)
        out += c == '<'    ? std::string("&lt;")
               : c == '>'  ? "&gt;"
               : c == '&'  ? "&amp;"
               : c == '\'' ? "&#39;"
                           : std::string(1, c);
    return out;
}

/// As they were before in_html().
inline std::string out_of_html(std::string words) {
    for (const auto& [coded, plain] : {std::pair{"&lt;", "<"}, {"&gt;", ">"}, {"&#39;", "'"}, {"&amp;", "&"}})
        for (std::size_t at = words.find(coded); at != words.npos; at = words.find(coded, at + 1))
            words.replace(at, std::string(coded).size(), plain);
    return words;
}

} // namespace dervish::say
