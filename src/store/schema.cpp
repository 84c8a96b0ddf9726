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
    void mass(const char* key, double) { add(units::filed_key(key, Quantity::Mass), number()); }
    void distance(const char* key, double) { add(units::filed_key(key, Quantity::Distance), number()); }
    void number(const char* key, double) { add(key, number()); }
    void optional_length(const char* key, const std::optional<double>&) { maybe(key, Quantity::Length); }
    void optional_angle(const char* key, const std::optional<double>&) { maybe(key, Quantity::Angle); }
    void maybe(const char* key, Quantity quantity) { add(units::filed_key(key, quantity), number(), false); }
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
    /// A part whose choice decides which fields it has: the schema takes either. `kinds` are the part in each choice.
    template <class T> static Json either(const char* choice, const std::vector<std::pair<const char*, T>>& kinds) {
        Json out = {{"oneOf", Json::array()}};
        for (const auto& [name, part] : kinds) {
            Json one = object<T>(part);
            one["properties"][choice] = {{"const", name}};
            out["oneOf"].push_back(std::move(one));
        }
        return out;
    }
    static Json object(const job::AxleData&) {
        job::AxleData solid;
        solid.kind = car::AxleKind::Solid;
        return either<job::AxleData>("kind", {{"independent", {}}, {"solid", solid}});
    }
    static Json object(const job::Assembly&) {
        job::Assembly clamped;
        clamped.held = job::Held::Clamped;
        return either<job::Assembly>("held", {{"links", {}}, {"clamped", clamped}});
    }
    static Json object(const job::LinkageData&) {
        job::LinkageData arm, points;
        arm.path = job::PathKind::Arm;
        points.path = job::PathKind::Points;
        return either<job::LinkageData>("path", {{"straight", {}}, {"arm", arm}, {"points", points}});
    }
    static Json object(const job::LinkData&) {
        Json out = {{"oneOf", Json::array()}};
        for (const auto& [pickups, name] :
             {std::pair{job::Pickups::UnderEyes, "under_eyes"}, {job::Pickups::Measured, "measured"}}) {
            job::LinkData fixed, threaded;
            fixed.pickups = threaded.pickups = pickups;
            threaded.adjust = job::Adjust::OneEnd;
            Json of_place =
                either<job::LinkData>("adjust", {{"no", fixed}, {"one_end", threaded}, {"opposite", threaded}});
            for (Json& one : of_place["oneOf"]) {
                one["properties"]["pickups"] = {{"const", name}};
                out["oneOf"].push_back(std::move(one));
            }
        }
        return out;
    }
    static Json object(const job::BarData&) {
        Json out = {{"oneOf", Json::array()}};
        for (const auto& [form, form_name] :
             {std::pair{job::Form::Sizes, "sizes"}, {job::Form::Walk, "walk"}, {job::Form::Points, "points"}}) {
            job::BarData bar;
            bar.form = form;
            std::vector<std::pair<const char*, job::BarData>> kinds;
            for (const auto& [arms, arms_name] : {std::pair{job::Arms::OfTheBar, "of_the_bar"},
                                                  {job::Arms::Round, "round"},
                                                  {job::Arms::Blade, "blade"}}) {
                bar.arms = arms;
                kinds.emplace_back(form == job::Form::Sizes ? arms_name : form_name, bar);
                if (form != job::Form::Sizes) break;
            }
            Json of_form = either<job::BarData>(form == job::Form::Sizes ? "arms" : "form", kinds);
            for (Json& one : of_form["oneOf"]) {
                one["properties"]["form"] = {{"const", form_name}};
                out["oneOf"].push_back(std::move(one));
            }
        }
        return out;
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
