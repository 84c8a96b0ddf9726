#include "core/job/describe.h"
#include "store/json_job.h"

#include <cmath>

namespace dervish::store {
namespace {
using job::FieldSpec;
using units::Quantity;

/// Writes the JSON schema of whatever it walks.
struct SchemaWriter {
    Json& properties;
    Json& required;

    void add(const std::string& key, Json schema, bool needed = true) {
        properties[key] = std::move(schema);
        if (needed) required.push_back(key);
    }
    static Json number() { return {{"type", "number"}}; }

    void field(const job::Measured&, const FieldSpec& spec) {
        const double factor = units::filed(spec.quantity).factor;
        Json value = {{"type", "number"},
                      {"minimum", units::rounded(spec.lowest / factor)},
                      {"maximum", units::rounded(spec.highest / factor)}};
        if (spec.word) value = {{"anyOf", {value, {{"const", spec.word}}}}};
        add(units::filed_key(spec.key, spec.quantity), {{"type", "object"},
                                                        {"title", spec.label},
                                                        {"description", spec.hint},
                                                        {"properties",
                                                         {{"value", value},
                                                          {"sigma", {{"type", "number"}, {"minimum", 0}}},
                                                          {"source", {{"enum", {"measured", "quoted", "assumed"}}}}}},
                                                        {"required", {"value", "sigma", "source"}},
                                                        {"additionalProperties", false}});
    }
    void text(const char* key, const char*, const std::string&) { add(key, {{"type", "string"}}); }
    void flag(const char* key, const char*, bool) { add(key, {{"type", "boolean"}}); }
    void index(const char* key, const char*, int) { add(key, {{"type", "integer"}, {"minimum", -1}, {"maximum", 99}}); }
    void length(const char* key, double) { add(units::filed_key(key, Quantity::Length), number()); }
    void distance(const char* key, double) { add(units::filed_key(key, Quantity::Distance), number()); }
    void optional_length(const char* key, const std::optional<double>&) {
        add(units::filed_key(key, Quantity::Length), number(), false);
    }
    template <class E> void choice(const char* key, const char*, E, std::initializer_list<const char*> names) {
        add(key, {{"enum", std::vector<std::string>(names.begin(), names.end())}});
    }
    void texts(const char* key, const char*, const std::vector<std::string>&) {
        add(key, {{"type", "array"}, {"items", {{"type", "string"}}}});
    }
    void texts(const char* key, const char*, const std::map<std::string, std::string>&) {
        add(key, {{"type", "object"}, {"additionalProperties", {{"type", "string"}}}});
    }
    template <class T> static Json object(const T& part) {
        Json out = {{"type", "object"},
                    {"properties", Json::object()},
                    {"required", Json::array()},
                    {"additionalProperties", false}};
        SchemaWriter inner{out["properties"], out["required"]};
        job::describe(inner, part);
        return out;
    }
    /// An axle has other fields when solid: the schema takes either.
    static Json object(const job::AxleData&) {
        job::AxleData independent, solid;
        solid.kind = car::AxleKind::Solid;
        Json either[] = {object<job::AxleData>(independent), object<job::AxleData>(solid)};
        either[0]["properties"]["kind"] = {{"const", "independent"}};
        either[1]["properties"]["kind"] = {{"const", "solid"}};
        return {{"oneOf", {either[0], either[1]}}};
    }
    template <class T> void group(const char* key, const char*, const T& part) { add(key, object(part)); }
    template <class T> void list(const char* key, const char*, const std::vector<T>&) {
        add(key, {{"type", "array"}, {"maxItems", 10000}, {"items", object(T{})}});
    }
};
} // namespace

Json schema() {
    Json out = {{"$schema", "http://json-schema.org/draft-07/schema#"}, {"title", "Dervish job"}};
    out.update(SchemaWriter::object(job::Job{}));
    Json head = {{"format", {{"const", "dervish job"}}}, {"version", {{"const", job_version}}}};
    head.update(out["properties"]);
    out["properties"] = head;
    out["required"].insert(out["required"].begin(), {"format", "version"});
    return out;
}

} // namespace dervish::store
