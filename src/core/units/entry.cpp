#include "core/units/entry.h"

#include "core/num/bad_input.h"
#include "core/units/spelling.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <optional>

namespace dervish::units {
namespace {
bool is_digit(char c) { return c >= '0' && c <= '9'; }
bool is_letter(char c) { return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z'); }

[[noreturn]] void refuse(const std::string& what, const std::string& accepted) { throw BadInput("", what, accepted); }

/// A number so far: plain, or with the unit it was given in.
struct Value {
    double number;                  ///< SI once it has a unit
    std::optional<double> factor{}; ///< of its unit
    std::string unit{};
};

class Parser {
public:
    Parser(const std::string& text, Quantity quantity, System system, bool grouped)
        : text_(text), quantity_(quantity), shown_(units::shown(quantity, system)), grouped_(grouped) {}

    double reading() {
        const Value v = sum();
        skip();
        if (at_ < text_.size()) not_a_number();
        const double si = v.factor ? v.number : v.number * shown_.factor;
        if (!std::isfinite(si)) refuse("\"" + text_ + "\" is beyond any measure", "give a number that can be");
        return si;
    }
    bool comma_may_group() const { return comma_; }
    bool point_may_group() const { return point_; }

private:
    [[noreturn]] void not_a_number() const {
        refuse(
            "\"" + text_ + "\" is not a number",
            "give " +
                (shown_.symbol.empty() ? std::string("plain figures") : "a number in " + std::string(shown_.symbol)) +
                (quantity_ == Quantity::Length ? ", or such as 1 1/16 in or 268+12" : ""));
    }
    void skip() {
        while (at_ < text_.size() && text_[at_] == ' ') ++at_;
    }
    char next() {
        skip();
        return at_ < text_.size() ? text_[at_] : '\0';
    }

    Value sum() {
        double sign = 1;
        if (next() == '+' || next() == '-') sign = text_[at_++] == '-' ? -1 : 1;
        std::vector<Value> terms{product()};
        terms.back().number *= sign;
        const double leading = sign;
        for (char c = next(); c; c = next()) {
            const Value& last = terms.back();
            // Feet are followed by inches without a sign.
            if (is_digit(c) && last.factor && *last.factor == 12 * 0.0254 && quantity_ == Quantity::Length)
                sign = leading;
            else if (c == '+' || c == '-')
                sign = text_[at_++] == '-' ? -1 : 1;
            else
                break;
            terms.push_back(product());
            terms.back().number *= sign;
        }
        const auto with = std::find_if(terms.begin(), terms.end(), [](const Value& v) { return v.factor.has_value(); });
        Value out{0, {}, {}};
        if (with != terms.end()) {
            out.factor = with->factor;
            out.unit = with->unit;
        }
        for (const Value& t : terms) {
            if (out.factor && !t.factor && *out.factor != shown_.factor)
                refuse("\"" + text_ + "\" can be read in two ways",
                       "give each number its unit, or put the sum in brackets: (…) " + out.unit);
            out.number += out.factor && !t.factor ? t.number * shown_.factor : t.number;
        }
        return out;
    }

    Value product() {
        Value out = factor();
        while (next() == '*') {
            ++at_;
            const Value by = factor();
            if (out.factor && by.factor)
                refuse("\"" + text_ + "\" multiplies two sizes", "give one of them without a unit");
            out.number *= by.number;
            if (by.factor) out.factor = by.factor, out.unit = by.unit;
        }
        return out;
    }

    Value factor() {
        Value out{0, {}, {}};
        if (next() == '(') {
            if (++depth_ > 20) not_a_number();
            ++at_;
            out = sum();
            if (next() != ')') not_a_number();
            ++at_;
            --depth_;
        } else {
            out.number = number();
        }
        if (const auto [factor, spelling] = unit(); factor > 0) {
            if (out.factor) refuse("\"" + text_ + "\" has two units", "give one");
            out = {out.number * factor, factor, spelling};
        }
        return out;
    }

    /// Factor of the unit at hand, 0 when there is none.
    std::pair<double, std::string> unit() {
        const char c = next();
        if (!c || is_digit(c) || std::string_view("+-*/();.,").find(c) != std::string_view::npos) return {0, ""};
        const Named* other = nullptr;
        std::size_t other_end = 0;
        for (const bool exact : {true, false})
            for (const Named& u : named_units()) {
                if (other && u.spelling.size() < other->spelling.size()) break;
                const std::size_t end = match(u.spelling, exact);
                if (!end) continue;
                if (u.quantity == quantity_) {
                    at_ = end;
                    return {u.factor, u.spelling};
                }
                if (!other) other = &u, other_end = end;
            }
        if (other)
            refuse("\"" + text_.substr(at_, other_end - at_) + "\" is the unit of " + name_of(other->quantity),
                   std::string("give ") + name_of(quantity_) +
                       (shown_.symbol.empty() ? "" : ", such as in " + std::string(shown_.symbol)));
        not_a_number();
    }

    /// End of `spelling` in the text from here, spaces passed over; 0 where it does not stand.
    std::size_t match(const std::string& spelling, bool exact) const {
        const auto low = [](char c) { return c >= 'A' && c <= 'Z' ? static_cast<char>(c + 32) : c; };
        std::size_t at = at_;
        for (const char c : spelling) {
            while (at < text_.size() && text_[at] == ' ') ++at;
            if (at >= text_.size() || (exact ? text_[at] != c : low(text_[at]) != low(c))) return 0;
            ++at;
        }
        const bool whole =
            at >= text_.size() || !(is_letter(text_[at]) || (is_digit(text_[at]) && is_letter(spelling.back())));
        return whole ? at : 0;
    }

    double number() {
        skip();
        const std::size_t start = at_;
        if (const auto fraction = fraction_here()) return *fraction;
        std::string figures = digits();
        if (!figures.empty() && at_ < text_.size() && text_[at_] == ' ') { // "10 3/4", or "1 582"
            const std::size_t before = at_;
            skip();
            if (const auto fraction = fraction_here()) return to_double(figures, start) + *fraction;
            at_ = before;
            const bool heads = figures.size() <= 3;
            while (heads && at_ < text_.size() && text_[at_] == ' ' && group_at(at_ + 1)) {
                figures += text_.substr(at_ + 1, 3);
                at_ += 4;
            }
        }
        // Signs between figures: the last is the decimal one, unless it stands twice.
        std::vector<std::pair<char, std::string>> parts;
        while (at_ < text_.size() && (text_[at_] == '.' || text_[at_] == ',') && at_ + 1 < text_.size() &&
               is_digit(text_[at_ + 1])) {
            const char sign = text_[at_++];
            parts.emplace_back(sign, digits());
        }
        if (at_ < text_.size() && (text_[at_] == '.' || text_[at_] == ',') && !figures.empty() && parts.empty())
            ++at_; // "26."
        if (figures.empty() && parts.empty()) not_a_number();
        const auto groups = [&](std::size_t count) {
            return !figures.empty() && figures.size() <= 3 && figures[0] != '0' &&
                   std::all_of(parts.begin(), parts.begin() + static_cast<std::ptrdiff_t>(count),
                               [&](const auto& p) { return p.first == parts[0].first && p.second.size() == 3; });
        };
        if (parts.size() == 1) {
            const bool may = groups(1);
            (parts[0].first == ',' ? comma_ : point_) |= may;
            figures += (may && grouped_ ? "" : ".") + parts[0].second;
        } else if (parts.size() > 1) {
            const bool all = groups(parts.size());
            const bool decimal = !all && parts.back().first != parts[0].first && groups(parts.size() - 1);
            if (!all && !decimal) not_a_number();
            for (std::size_t i = 0; i < parts.size(); ++i)
                figures += (decimal && i + 1 == parts.size() ? "." : "") + parts[i].second;
        }
        if (at_ < text_.size() && (text_[at_] == 'e' || text_[at_] == 'E')) { // 1e9
            std::size_t end = at_ + 1;
            if (end < text_.size() && (text_[end] == '-' || text_[end] == '+')) ++end;
            if (end < text_.size() && is_digit(text_[end])) {
                figures += 'e';
                for (++at_; at_ < end || (at_ < text_.size() && is_digit(text_[at_])); ++at_)
                    if (text_[at_] != '+') figures += text_[at_];
            }
        }
        return to_double(figures, start);
    }

    std::string digits() {
        std::string out;
        while (at_ < text_.size() && is_digit(text_[at_])) out += text_[at_++];
        return out;
    }
    bool group_at(std::size_t at) const {
        for (std::size_t k = 0; k < 3; ++k)
            if (at + k >= text_.size() || !is_digit(text_[at + k])) return false;
        return at + 3 >= text_.size() || (!is_digit(text_[at + 3]) && text_[at + 3] != '/');
    }
    double to_double(const std::string& figures, std::size_t start) const {
        double value = 0;
        const auto [end, error] = std::from_chars(figures.data(), figures.data() + figures.size(), value);
        if (error == std::errc::result_out_of_range)
            refuse("\"" + text_.substr(start) + "\" is beyond any measure", "give a number that can be");
        if (error != std::errc() || end != figures.data() + figures.size()) not_a_number();
        return value;
    }

    /// "3/4" at this place, of whole numbers; nothing, and no move, where none stands.
    std::optional<double> fraction_here() {
        const std::size_t start = at_;
        const std::string over = digits();
        skip();
        if (over.empty() || over.size() > 4 || at_ >= text_.size() || text_[at_] != '/') {
            at_ = start;
            return {};
        }
        ++at_;
        skip();
        const std::string under = digits();
        const bool ends = at_ >= text_.size() || (text_[at_] != '.' && text_[at_] != ',' && text_[at_] != '/');
        if (under.empty() || under.size() > 4 || !ends)
            refuse("\"" + text_ + "\" is not a number",
                   "part several readings by ; and write fractions of whole numbers, such as 10 3/4");
        const double a = to_double(over, start), b = to_double(under, start);
        if (b == 0) refuse("\"" + text_ + "\" divides by 0", "give a fraction that can be");
        // A rule's fraction is an odd number of halves to hundred-and-twenty-eighths; else two readings may be meant.
        const auto u = static_cast<unsigned>(b);
        const bool of_a_rule = u >= 2 && u <= 128 && (u & (u - 1)) == 0 && static_cast<unsigned>(a) % 2 == 1;
        if (!of_a_rule)
            refuse("\"" + text_ + "\" can be read in two ways",
                   "for two readings write " + over + "; " + under + ", for the fraction " + trimmed(a / b, 6));
        return a / b;
    }

    const std::string& text_;
    Quantity quantity_;
    Unit shown_;
    bool grouped_;
    std::size_t at_ = 0;
    int depth_ = 0;
    bool comma_ = false, point_ = false;
};

double read_one(const std::string& text, Quantity quantity, System system, const std::function<bool(double)>& fits) {
    Parser first(text, quantity, system, false);
    const double decimal = first.reading();
    if (!first.comma_may_group() && !(first.point_may_group() && !fits(decimal))) return decimal;
    const double grouped = Parser(text, quantity, system, true).reading();
    if (!fits(grouped)) return decimal;
    if (!fits(decimal) && !first.point_may_group()) return grouped;
    const double factor = shown(quantity, system).factor;
    refuse("\"" + text + "\" can be read in two ways",
           "write " + trimmed(decimal / factor, 6) + " or " + trimmed(grouped / factor, 6));
}
} // namespace

const char* name_of(Quantity quantity) {
    switch (quantity) {
    case Quantity::Length:
        return "a length";
    case Quantity::Mass:
        return "a mass";
    case Quantity::Force:
        return "a force";
    case Quantity::Rate:
        return "a rate";
    case Quantity::CubicRate:
        return "a rate that rises";
    case Quantity::TorsionalRate:
    case Quantity::TwistRate:
        return "a rate in twist";
    case Quantity::Angle:
        return "an angle";
    case Quantity::Modulus:
        return "a modulus";
    case Quantity::Stress:
        return "a stress";
    case Quantity::Density:
        return "a density";
    case Quantity::Distance:
        return "a distance driven";
    case Quantity::RollGradient:
        return "a lean for its side force";
    case Quantity::Share:
        return "a share";
    case Quantity::Damping:
        return "a damping";
    case Quantity::Inertia:
        return "an inertia";
    case Quantity::SteerPerForce:
        return "a steer for its side force";
    case Quantity::Pressure:
        return "a pressure";
    case Quantity::Speed:
        return "a speed";
    case Quantity::Moment:
        return "a moment";
    case Quantity::Number:
        return "a plain number";
    }
    return "a number";
}

Entry read_entry(std::string_view typed, Quantity quantity, System system, const std::function<bool(double)>& fits) {
    constexpr std::size_t longest = 400, most = 100;
    if (typed.size() > longest) refuse("the text is too long for a number", "give at most 400 characters");
    std::string text = plain(typed);
    Entry out;
    if (text.starts_with('>')) {
        out.more_than = true;
        text.erase(0,
                   text.find_first_not_of(' ', 1) == std::string::npos ? text.size() : text.find_first_not_of(' ', 1));
    }
    for (std::size_t at = 0; at <= text.size();) {
        const std::size_t end = std::min(text.find(';', at), text.size());
        const std::string one = plain(std::string_view(text).substr(at, end - at));
        at = end + 1;
        if (one.empty() && end == text.size() && !out.values.empty()) break; // "26.1; " on the way to the next
        if (one.empty()) refuse("an empty reading", "give a number");
        out.values.push_back(read_one(one, quantity, system, fits));
        if (out.values.size() > most) refuse("more than 100 readings", "give at most 100");
    }
    return out;
}

} // namespace dervish::units
