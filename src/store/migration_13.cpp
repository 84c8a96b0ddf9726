#include "store/migrations.h"

/// Version 13 knew one kind of test, on ramps, of one setup, its readings a list beside a prediction of one value.
namespace dervish::store {
namespace {
constexpr const char* wheel_keys[] = {"front_left", "front_right", "rear_left", "rear_right"};

Json length(const Json& of, const std::string& key) {
    const Json at = of.is_object() ? of.value(key + "_mm", Json()) : Json();
    return at.is_number() ? Json(units::rounded(at.get<double>() * units::mm)) : at;
}
Json amount(const std::string& of, const Json& si) { return {{"of", of}, {"si", si}}; }

Json prediction(const Json& old, bool made, bool fixed, const char* model) {
    if (made && !old.is_object()) return old; // for the reader to refuse
    Json value = Json::array(), sigma = Json::array(), tells = Json::array();
    if (made) {
        const auto add = [&](const Json& v, const Json& s, int as) {
            value.push_back(v.is_null() ? Json(0.0) : v);
            sigma.push_back(s.is_null() ? Json(0.0) : s);
            tells.push_back(v.is_null() ? 2 : as);
        };
        add(length(old, "value"), length(old, "sigma"), fixed || old.value("lifted", Json(true)) == true ? 0 : 1);
        for (const char* w : wheel_keys)
            add(length(old.value("travel", Json()), w), length(old.value("travel_sigma", Json()), w), 0);
    }
    return {{"made", made},
            {"value_si", value},
            {"sigma_si", sigma},
            {"tells", tells},
            {"light_wheel", old.is_object() ? old.value("light_wheel", Json(-1)) : Json(-1)},
            {"model", old.is_object() ? old.value("model", Json(model)) : Json(model)},
            {"shares", Json::array()}};
}

Json runs_of(const Json& readings, const std::string& channel) {
    Json runs = Json::array();
    if (!readings.is_array()) return runs;
    for (const Json& reading : readings) {
        if (!reading.is_object()) {
            runs.push_back(reading); // for the reader to refuse
            continue;
        }
        Json read = Json::array();
        const auto add = [&](const std::string& key, const Json& value, const char* bound) {
            if (!value.is_null())
                read.push_back({{"channel", key}, {"value_si", value}, {"bound", bound}, {"discarded", ""}});
        };
        const bool more = reading.value("more_than", Json()) == true;
        add(channel, length(reading, "value"), more ? "more than" : "exact");
        for (const char* w : wheel_keys) add(w, length(reading.value("travel", Json()), w), "exact");
        runs.push_back({{"state", 0},
                        {"driver", ""},
                        {"time", ""},
                        {"ground", ""},
                        {"note", reading.value("note", Json(""))},
                        {"aboard", Json::array()},
                        {"aids_on", false},
                        {"conditions", Json::array()},
                        {"felt", true},
                        {"discarded", ""},
                        {"readings", read},
                        {"impressions", Json::array()}});
    }
    return runs;
}

Json test_of(const Json& old) {
    const Json ramp = old.value("ramp", Json());
    if (!ramp.is_object()) return old;
    const bool fixed = ramp.value("method", Json()) == "fixed", made = ramp.value("predicted", Json()) == true;
    const std::string channel = fixed ? "gap" : "height";
    Json settings = Json::array({amount("raised", ramp.value("raised", Json()) == "front_right_rear_left" ? 1.0 : 0.0),
                                 amount("ramp_height", length(ramp, "ramp_height"))}),
         read_to = Json::array({amount(channel, length(ramp, "reading_sigma"))}), guesses = Json::array();
    for (const char* w : wheel_keys) read_to.push_back(amount(w, length(ramp, "reading_sigma")));
    if (const Json guess = length(ramp, "guess"); !guess.is_null())
        guesses.push_back(
            {{"person", ""}, {"state", 0}, {"than", 0}, {"kind", "number"}, {"value_si", guess}, {"span_si", 0.0}});
    const Json state = {{"name", "as planned"},
                        {"car", old.value("car", Json())},
                        {"prediction", prediction(ramp.value("prediction", Json()), made, fixed, "1")}};
    const Json runs = runs_of(ramp.value("readings", Json()), channel);
    Json order = Json::array();
    for (std::size_t i = 0; i < runs.size(); ++i) order.push_back(0);
    return {{"name", old.value("name", Json())},
            {"date", old.value("date", Json())},
            {"question", ""},
            {"asks", "sum or car"},
            {"protocol", fixed ? "fixed_ramps" : "diagonal_ramps"},
            {"settings", settings},
            {"read_to", read_to},
            {"states", Json::array({state})},
            {"order", order},
            {"shuffled", false},
            {"blind", false},
            {"guesses", guesses},
            {"runs", runs},
            {"decision",
             {{"kind", "none"},
              {"date", ""},
              {"words", ""},
              {"voices", Json::array()},
              {"ordered", ""},
              {"look_again", ""}}}};
}

bool is_fixed(const Json& job, const std::string& place) {
    const Json tests = job.value("tests", Json());
    for (std::size_t i = 0; tests.is_array() && i < tests.size(); ++i)
        if (std::to_string(i) == place)
            return tests[i].is_object() && tests[i].value("protocol", Json()) == "fixed_ramps";
    return false;
}
} // namespace

void from_version_13(Json& job) {
    if (job.contains("tests") && job["tests"].is_array())
        for (Json& test : job["tests"])
            if (test.is_object()) test = test_of(test);
    // Texts that wait in a reading's cell: "tests/0/readings/1/2" is now of run 1 and its channel.
    if (!job.contains("drafts") || !job["drafts"].is_object()) return;
    Json drafts = Json::object();
    for (const auto& [path, draft] : job["drafts"].items()) {
        std::string to = path;
        const auto at = path.find("/readings/");
        if (path.starts_with("tests/") && at != std::string::npos) {
            const auto end = path.rfind('/');
            const std::string test = path.substr(6, at - 6), column = path.substr(end + 1);
            const bool fixed = is_fixed(job, test);
            const std::string of = column == "0"   ? (fixed ? "gap" : "height")
                                   : column == "1" ? wheel_keys[0]
                                   : column == "2" ? wheel_keys[1]
                                   : column == "3" ? wheel_keys[2]
                                                   : wheel_keys[3];
            to = path.substr(0, at) + "/runs/" + path.substr(at + 10, end - at - 10) + "/" + of;
        }
        drafts[to] = draft;
    }
    job["drafts"] = std::move(drafts);
}

} // namespace dervish::store
