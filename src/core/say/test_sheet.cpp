#include "core/say/test_sheet.h"
#include "core/job/fields.h"
#include "core/say/html.h"
#include "core/say/proof_words.h"

namespace dervish::say {
namespace {
std::string letter(int state) { return std::string(1, static_cast<char>('A' + state)); }
} // namespace

std::string test_sheet(const job::Job& job, const job::PlannedTest& test, units::System system) {
    const proof::Protocol& p = proof::protocol(test.protocol);
    std::string out = "<html><body style='font-size: 11pt'><p style='font-size: 16pt'><b>" + in_html(test.name) +
                      "</b></p><p><b>" + in_html(test.question.empty() ? words_of(test.asks) : test.question) +
                      "</b><br>" + in_html(job.name) + ", " + in_html(p.name) + "; planned " + in_html(test.date) +
                      "</p>";
    out += "<p>Date ____________ Driver ____________ Place ____________ Ground ____________ Air ______ Fuel ______</p>";
    out += "<p><b>Held equal in all runs</b>: driver, load aboard, pressures cold, fuel, aids, ground. Pressures cold: "
           "______ ______ ______ ______ hot: ______ ______ ______ ______</p>";
    out += "<p><b>Needed</b>: ";
    for (const char* need : p.needs) out += in_html(need) + std::string("; ");
    out += "</p><p><b>Set</b>: ";
    for (const proof::Setting& s : p.settings) {
        const double value = proof::settings_of(p, test).at(s.spec.key);
        out += in_html(s.spec.label) + std::string(" ") +
               (s.words.empty() ? in_html(job::show(value, s.spec, system)) + " " +
                                      std::string(units::shown(s.spec.quantity, system).symbol)
                                : std::string(s.words[static_cast<std::size_t>(value)])) +
               "; ";
    }
    out += "</p><ol>";
    for (const char* step : p.steps) out += "<li>" + in_html(step) + "</li>";
    out += "</ol><p><b>It ends</b>: " + in_html(p.ends) + "</p>";
    out += "<table border='1' cellspacing='0' cellpadding='5' width='100%'><tr><th>run</th><th>setup</th>";
    std::vector<const proof::Channel*> columns;
    for (const proof::Channel& c : p.channels)
        if (columns.size() < 6) columns.push_back(&c);
    for (const proof::Channel* c : columns)
        out += "<th>" + in_html(c->spec.label) + ", " + std::string(units::shown(c->spec.quantity, system).symbol) +
               "</th>";
    out += "<th>felt, at once</th></tr>";
    for (std::size_t r = 0; r < test.order.size(); ++r) {
        out +=
            "<tr><td>" + std::to_string(r + 1) + "</td><td>" + (test.shuffled ? "" : letter(test.order[r])) + "</td>";
        for (std::size_t c = 0; c < columns.size(); ++c) out += "<td>&nbsp;<br>&nbsp;</td>";
        out += "<td></td></tr>";
    }
    out += "</table>";
    const auto states = [&] {
        std::string list = "<p>";
        for (std::size_t s = 0; s < test.states.size(); ++s)
            list += "<b>" + letter(static_cast<int>(s)) + "</b> " + in_html(test.states[s].name) + "<br>";
        return list + "</p>";
    };
    if (!test.shuffled) out += states();
    out += "<p><b>Marks from 0 to 10</b>: ";
    for (const proof::Scale& s : proof::scales_of(p))
        out += in_html(s.label) + std::string(" (0 ") + in_html(s.low) + ", 10 " + in_html(s.high) + "); ";
    out += "</p><p><b>Caution</b>: " + in_html(p.caution) +
           " The vehicle's maker, local rules and licensed practice decide.</p>";
    if (test.shuffled) {
        out += "<div style='page-break-before: always'><p style='font-size: 16pt'><b>" + in_html(test.name) +
               ": order of the setups</b></p><p>Not for the driver. Fold and keep with whoever changes the car.</p>" +
               states() + "<table border='1' cellspacing='0' cellpadding='5'><tr><th>run</th><th>setup</th></tr>";
        for (std::size_t r = 0; r < test.order.size(); ++r)
            out += "<tr><td>" + std::to_string(r + 1) + "</td><td>" + letter(test.order[r]) + "</td></tr>";
        out += "</table></div>";
    }
    return out + "</body></html>";
}

} // namespace dervish::say
