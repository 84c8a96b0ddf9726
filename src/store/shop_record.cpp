#include "store/shop_record.h"

#include "store/file.h"
#include "store/json_job.h"
#include "store/parse.h"

#include <algorithm>

namespace dervish::store {
namespace {
Json read_record(const std::filesystem::path& record) {
    try {
        Json out = parse_json<Json>(read_file(record, largest_json), record.filename().string());
        return out.is_object() ? out : Json::object();
    } catch (const BadInput&) { // none yet, or not ours: a record is a help, not a job
        return Json::object();
    }
}

std::optional<book::Took> took_of(const Json& json) {
    if (!json.is_object() || !json.contains("minutes") || !json["minutes"].is_number() || !json.contains("steps") ||
        !json["steps"].is_array())
        return {};
    book::Took out{json.value("date", Json("")).is_string() ? json.value("date", std::string()) : std::string(),
                   json["minutes"],
                   {}};
    for (const Json& step : json["steps"]) {
        if (!step.is_string()) return {};
        out.steps.push_back(step);
    }
    return out.minutes > 0 ? std::optional(out) : std::nullopt;
}
} // namespace

std::vector<book::Took> shop_record(const std::filesystem::path& record, const std::filesystem::path& except) {
    std::vector<book::Took> out;
    const Json jobs = read_record(record);
    for (const auto& [path, all] : jobs.items())
        if (path != except.string() && all.is_array())
            for (const Json& one : all)
                // A job that was copied says the same twice.
                if (const auto took = took_of(one); took && std::ranges::find(out, *took) == out.end())
                    out.push_back(*took);
    return out;
}

void keep_in_shop_record(const std::filesystem::path& record, const std::filesystem::path& path, const job::Job& job) {
    Json all = read_record(record);
    Json now = Json::array();
    for (const book::Took& took : book::took(job))
        now.push_back({{"date", took.date}, {"minutes", took.minutes}, {"steps", took.steps}});
    if (all.contains(path.string()) ? all[path.string()] == now : now.empty()) return;
    if (now.empty())
        all.erase(path.string());
    else
        all[path.string()] = now;
    std::filesystem::create_directories(record.parent_path());
    write_file(record, all.dump(1) + "\n");
}

} // namespace dervish::store
