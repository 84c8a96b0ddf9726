#include "store/parse.h"

#include "core/job/limits.h"

#include <algorithm>
#include <cmath>
#include <unordered_set>
#include <vector>

namespace dervish::store {
namespace {
constexpr std::size_t deepest = 40, most_values = 2'000'000, most_keys = 20'000, longest_text = job::longest_in_file;

/// Builds what it counts. Members wait until their object ends: an ordered object that grows copies all that is in it.
template <class J> struct Builder : nlohmann::json_sax<J> {
    using Sax = nlohmann::json_sax<J>;
    const std::string& text;
    const std::string& name;
    std::size_t values = 0;
    struct Open {
        bool list;
        std::vector<J> items{};
        std::vector<std::pair<std::string, J>> members{};
        std::string key{};
        std::unordered_set<std::string> keys{}; ///< once there are too many to look through
        static constexpr std::size_t few = 64;
        bool has(const std::string& wanted) {
            if (members.size() < few)
                return std::ranges::any_of(members, [&](const auto& m) { return m.first == wanted; });
            if (keys.empty())
                for (const auto& member : members) keys.insert(member.first);
            return !keys.insert(wanted).second;
        }
    };
    std::vector<Open> open; ///< what is around this place
    J root;

    Builder(const std::string& t, const std::string& n) : text(t), name(n) {}

    [[noreturn]] void refuse(const std::string& what, const std::string& accepted) const {
        throw BadInput(name, what, accepted);
    }
    void one() {
        if (++values > most_values) refuse("more than 2 million values", "a job has fewer");
    }
    void words(const std::string& s) const {
        if (s.size() > longest_text)
            refuse("a text of " + std::to_string(s.size()) + " bytes", "at most " + std::to_string(longest_text));
    }
    bool put(J value) {
        if (open.empty())
            root = std::move(value);
        else if (open.back().list)
            open.back().items.push_back(std::move(value));
        else
            open.back().members.emplace_back(std::move(open.back().key), std::move(value));
        return true;
    }
    bool put_one(J value) {
        one();
        return put(std::move(value));
    }
    bool into(bool list) {
        if (open.size() == deepest) refuse("nested too deep", "at most " + std::to_string(deepest) + " levels");
        one();
        open.push_back({list});
        return true;
    }
    bool null() override { return put_one(nullptr); }
    bool boolean(bool b) override { return put_one(b); }
    bool number_integer(typename Sax::number_integer_t n) override { return put_one(n); }
    bool number_unsigned(typename Sax::number_unsigned_t n) override { return put_one(n); }
    bool number_float(typename Sax::number_float_t n, const typename Sax::string_t&) override { return put_one(n); }
    bool string(typename Sax::string_t& s) override {
        words(s);
        return put_one(std::move(s));
    }
    bool binary(typename Sax::binary_t&) override { return put_one(nullptr); }
    bool start_object(std::size_t) override { return into(false); }
    bool end_object() override {
        J out = J::object();
        auto& members = out.template get_ref<typename J::object_t&>();
        if constexpr (requires { members.reserve(1); }) {
            members.reserve(open.back().members.size());
            for (auto& [key, value] : open.back().members) members.emplace_back(std::move(key), std::move(value));
        } else {
            for (auto& [key, value] : open.back().members) members.emplace(std::move(key), std::move(value));
        }
        open.pop_back();
        return put(std::move(out));
    }
    bool start_array(std::size_t) override { return into(true); }
    bool end_array() override {
        J out = J::array();
        out.template get_ref<typename J::array_t&>() = std::move(open.back().items);
        open.pop_back();
        return put(std::move(out));
    }
    bool key(typename Sax::string_t& k) override {
        words(k);
        if (open.back().has(k))
            refuse("\"" + k.substr(0, 40) + "\" stands twice in one object", "take one of them out");
        if (open.back().members.size() == most_keys) refuse("an object of more than 20000 keys", "a job has fewer");
        open.back().key = std::move(k);
        return true;
    }
    bool parse_error(std::size_t position, const std::string&, const nlohmann::json::exception& e) override {
        const auto end = text.begin() + static_cast<std::ptrdiff_t>(std::min(position, text.size()));
        const std::string line = name + " line " + std::to_string(1 + std::count(text.begin(), end, '\n'));
        if (e.id == 406) throw BadInput(line, "a number beyond any measure", "give a number that can be");
        throw BadInput(line, "not sound JSON", "open an earlier version beside it, or correct the line");
    }
};
} // namespace

template <class J> J parse_json(const std::string& text, const std::string& name) {
    if (text.size() > largest_json) throw BadInput(name, "too large", "at most 64 MiB");
    Builder<J> builder(text, name);
    J::sax_parse(text, &builder);
    return std::move(builder.root);
}

template nlohmann::json parse_json(const std::string& text, const std::string& name);
template nlohmann::ordered_json parse_json(const std::string& text, const std::string& name);

} // namespace dervish::store
