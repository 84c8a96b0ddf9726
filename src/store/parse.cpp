#include "store/parse.h"

#include "core/num/bad_input.h"

#include <algorithm>
#include <cmath>
#include <unordered_set>
#include <vector>

namespace dervish::store {
namespace {
using nlohmann::json;
constexpr std::size_t deepest = 40, most_values = 2'000'000, most_keys = 5000, longest_text = 100'000;

struct Census : nlohmann::json_sax<json> {
    const std::string& text;
    const std::string& name;
    std::size_t values = 0;
    /// Keys of an object: looked through one by one while they are few, which is quicker.
    struct Keys {
        static constexpr std::size_t few = 64;
        std::vector<std::string> first{};
        std::unordered_set<std::string> more{};
        std::size_t count() const { return first.size() + more.size(); }
        bool add(const std::string& key) {
            if (std::find(first.begin(), first.end(), key) != first.end()) return false;
            if (first.size() == few) return more.insert(key).second;
            first.push_back(key);
            return true;
        }
    };
    std::vector<Keys> keys; ///< of the objects around this place; a list has none

    Census(const std::string& t, const std::string& n) : text(t), name(n) {}

    [[noreturn]] void refuse(const std::string& what, const std::string& accepted) const {
        throw BadInput(name, what, accepted);
    }
    bool one() {
        if (++values > most_values) refuse("more than 2 million values", "a job has fewer");
        return true;
    }
    bool words(const std::string& s) const {
        if (s.size() > longest_text) refuse("a text of " + std::to_string(s.size()) + " bytes", "at most 100000");
        return true;
    }
    bool into() {
        if (keys.size() == deepest) refuse("nested too deep", "at most " + std::to_string(deepest) + " levels");
        keys.emplace_back();
        return one();
    }
    bool out() {
        keys.pop_back();
        return true;
    }
    bool null() override { return one(); }
    bool boolean(bool) override { return one(); }
    bool number_integer(number_integer_t) override { return one(); }
    bool number_unsigned(number_unsigned_t) override { return one(); }
    bool number_float(number_float_t, const string_t&) override { return one(); }
    bool string(string_t& s) override { return one() && words(s); }
    bool binary(binary_t&) override { return one(); }
    bool start_object(std::size_t) override { return into(); }
    bool end_object() override { return out(); }
    bool start_array(std::size_t) override { return into(); }
    bool end_array() override { return out(); }
    bool key(string_t& k) override {
        words(k);
        if (!keys.back().add(k))
            refuse("\"" + k.substr(0, 40) + "\" stands twice in one object", "take one of them out");
        if (keys.back().count() > most_keys) refuse("an object of more than 5000 keys", "a job has fewer");
        return true;
    }
    bool parse_error(std::size_t position, const std::string&, const json::exception& e) override {
        const auto end = text.begin() + static_cast<std::ptrdiff_t>(std::min(position, text.size()));
        const std::string line = name + " line " + std::to_string(1 + std::count(text.begin(), end, '\n'));
        if (e.id == 406) throw BadInput(line, "a number beyond any measure", "give a number that can be");
        throw BadInput(line, "not sound JSON", "open an earlier version beside it, or correct the line");
    }
};
} // namespace

void census(const std::string& text, const std::string& name) {
    if (text.size() > largest_json) throw BadInput(name, "too large", "at most 64 MiB");
    Census counter(text, name);
    json::sax_parse(text, &counter);
}

} // namespace dervish::store
