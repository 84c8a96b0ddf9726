#include "core/job/describe.h"
#include "core/job/parts.h"
#include "store/json_job.h"
#include "store/migrations.h"

#include <cmath>
#include <cxxabi.h>
#include <typeinfo>
#include <utility>

namespace dervish::store {
namespace {
using job::FieldSpec;
using units::Quantity;

/// "LinkData": what a part's definition is called in the schema.
template <class T> std::string type_name() {
    int status = 0;
    char* const whole = abi::__cxa_demangle(typeid(T).name(), nullptr, nullptr, &status);
    std::string out = whole ? whole : typeid(T).name();
    std::free(whole);
    return out.substr(out.rfind(':') + 1);
}

/// Writes the JSON schema of whatever it walks; each kind of part once, among `definitions`.
struct SchemaWriter {
    Json& properties;
    Json& required;
    Json& definitions;
    int& newest;           ///< version that anything stands since
    bool optional = false; ///< what hangs on a choice is not required

    template <class F> void since(int version, F&& fields) {
        newest = std::max(newest, version);
        fields();
    }
    template <class F> void alternative(bool, F&& fields) {
        const bool before = std::exchange(optional, true);
        fields();
        optional = before;
    }
    void add(const std::string& key, Json schema, bool needed = true) {
        properties[key] = std::move(schema);
        if (needed && !optional) required.push_back(key);
    }
    static Json number() { return {{"type", "number"}}; }

    void field(const job::Measured&, const FieldSpec& spec) {
        const double factor = units::filed(spec.quantity).factor;
        Json value = {{"type", "number"},
                      {"minimum", units::rounded(spec.lowest / factor)},
                      {"maximum", units::rounded(spec.highest / factor)}};
        Json either = Json::array({value});
        if (spec.word) either.push_back({{"const", spec.word}});
        if (optional && spec.lowest > 0) either.push_back({{"const", 0}}); // never asked for yet
        if (either.size() > 1) value = {{"anyOf", either}};
        add(units::filed_key(spec.key, spec.quantity),
            {{"type", "object"},
             {"title", spec.label},
             {"description", spec.hint},
             {"properties",
              {{"value", value}, {"sigma", {{"type", "number"}, {"minimum", 0}}}, {"source", {{"enum", sources}}}}},
             {"required", {"value", "sigma", "source"}},
             {"additionalProperties", false}});
    }
    void text(const char* key, const char*, const std::string&) {
        add(key, {{"type", "string"}}, std::string_view(key) != "id"); // a shared part has it as its key
    }
    void flag(const char* key, const char*, bool) { add(key, {{"type", "boolean"}}); }
    void index(const char* key, const char*, int) { add(key, {{"type", "integer"}, {"minimum", -1}, {"maximum", 99}}); }
    void length(const char* key, double) { add(units::filed_key(key, Quantity::Length), number()); }
    void mass(const char* key, double) { add(units::filed_key(key, Quantity::Mass), number()); }
    void distance(const char* key, double) { add(units::filed_key(key, Quantity::Distance), number()); }
    void number(const char* key, double) { add(key, number()); }
    template <class T> void numbers(const char* key, const std::vector<T>&) {
        add(key, {{"type", "array"}, {"items", {{"type", std::is_integral_v<T> ? "integer" : "number"}}}});
    }
    void optional_length(const char* key, const std::optional<double>&) { maybe(key, Quantity::Length); }
    void optional_angle(const char* key, const std::optional<double>&) { maybe(key, Quantity::Angle); }
    void maybe(const char* key, Quantity quantity) { add(units::filed_key(key, quantity), number(), false); }
    template <class E> void choice(const char* key, const char*, E, std::initializer_list<const char*> names) {
        add(key, {{"enum", std::vector<std::string>(names.begin(), names.end())}});
    }
    void texts(const char* key, const char*, const std::vector<std::string>&) {
        add(key, {{"type", "array"}, {"items", {{"type", "string"}}}});
    }
    void drafts(const char* key, const char*, const std::map<std::string, job::Draft>&) {
        const Json draft = {{"type", "object"},
                            {"properties", {{"text", {{"type", "string"}}}, {"units", {{"enum", unit_systems}}}}},
                            {"required", {"text", "units"}},
                            {"additionalProperties", false}};
        add(key, {{"type", "object"}, {"additionalProperties", draft}});
    }
    template <class T> Json object(const T& part) const {
        Json out = {{"type", "object"},
                    {"properties", Json::object()},
                    {"required", Json::array()},
                    {"additionalProperties", false}};
        SchemaWriter inner{out["properties"], out["required"], definitions, newest, optional};
        job::describe(inner, part);
        return out;
    }
    /// Each kind of part once: what its choices do not ask for is there, and not required.
    template <class T> Json reference() const {
        const std::string name = type_name<T>();
        if (!definitions.contains(name)) definitions[name] = object(T{});
        return {{"$ref", "#/$defs/" + name}};
    }
    template <class T> void group(const char* key, const char*, const T& part) {
        add(key, optional ? object(part) : reference<T>());
    }
    /// By its id among the parts; in a snapshot by its place among what was.
    template <class T> void part(const char* key, const char*, const T&) {
        reference<T>();
        add(key, {{"type", {"string", "integer"}}});
    }
    template <class T> void once(const char* key, const T&) {
        reference<T>();
        add(key, {{"type", "integer"}, {"minimum", 0}});
    }
    void snapshot(const char* key, const job::Snapshot&) {
        reference<job::Snapshot>();
        add(key, {{"type", "integer"}, {"minimum", 0}});
    }
    template <class T> void optional_group(const char* key, const char*, const T&) { add(key, reference<T>(), false); }
    void optional_snapshot(const char* key, const std::optional<job::Snapshot>&) {
        reference<job::Snapshot>();
        add(key, {{"type", "integer"}, {"minimum", 0}}, false);
    }
    template <class T> void list(const char* key, const char*, const std::vector<T>&) {
        add(key, {{"type", "array"}, {"maxItems", 20000}, {"items", reference<T>()}});
    }
};
} // namespace

namespace {
/// The schema of today's format but for its head, and the newest version that anything in it stands since.
std::pair<Json, int> described() {
    int newest = last_migrated();
    Json properties, required, definitions = Json::object();
    SchemaWriter writer{properties, required, definitions, newest};
    Json out = writer.object(job::Job{});
    Json kinds = Json::object(), was = Json::object();
    const auto list = [&](const char* key, const Json& of) { was[key] = {{"type", "array"}, {"items", of}}; };
    const auto kind = [&]<class T>(const char* key, const T&) {
        kinds[key] = {{"type", "object"}, {"additionalProperties", writer.reference<T>()}};
        list(key, writer.reference<T>());
    };
    const job::Setup setup;
    job::each_part(setup, kind);
    list("vehicle", writer.reference<job::Vehicle>());
    out["properties"]["parts"] = {{"type", "object"}, {"properties", kinds}, {"additionalProperties", false}};
    out["properties"]["snapshots"] = {{"type", "array"}, {"items", writer.reference<job::Snapshot>()}};
    out["properties"]["was"] = {{"type", "object"}, {"properties", was}, {"additionalProperties", false}};
    for (const char* key : {"parts", "snapshots", "was"}) out["required"].push_back(key);
    out["$defs"] = definitions;
    return {out, newest};
}
} // namespace

int job_version() {
    static const int newest = described().second;
    return newest;
}

Json schema() {
    auto [out, newest] = described();
    Json head = {{"format", {{"const", "dervish job"}}}, {"version", {{"const", newest}}}};
    head.update(out["properties"]);
    out["properties"] = head;
    out["required"].insert(out["required"].begin(), {"format", "version"});
    Json whole = {{"$schema", "http://json-schema.org/draft-07/schema#"}, {"title", "Dervish job"}};
    whole.update(out);
    return whole;
}

} // namespace dervish::store
