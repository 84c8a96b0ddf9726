#include "app/widgets/car_fields.h"

#include "core/job/fields.h"

namespace dervish::app {
namespace {
constexpr const char* fitted_kinds[] = {"springs", "dampers", "tyres", "stand"};

bool own_on_trial(const Document& document, End end, const QString& kind) {
    const auto& fitted = document.job().fitted[end];
    const auto& trial = document.job().trial[end];
    if (kind == "springs") return trial.springs.id != fitted.springs.id;
    if (kind == "dampers") return trial.dampers.id != fitted.dampers.id;
    if (kind == "tyres") return trial.tyres.id != fitted.tyres.id;
    return !(trial.stand == fitted.stand);
}

/// "springs" of "trial/front/springs/rate"; empty for any other path.
QString kind_of(const QString& path) {
    if (!path.startsWith("fitted/") && !path.startsWith("trial/")) return {};
    if (path.contains("/stand/lift")) return {}; // tried on Trial with the links that it asks for
    const QString kind = path.section('/', 2, 2);
    for (const char* known : fitted_kinds)
        if (kind == known) return kind;
    return {};
}
} // namespace

QString on_axle(const Document& document, End end, const QString& key) {
    const bool own = document.look() == Look::Trial &&
                     (!document.measuring() || own_on_trial(document, end, key.section('/', 0, 0)));
    return QString(own ? "trial/" : "fitted/") + (QString(name_of(end)) + "/") + key;
}

QString brace_path(const Document& document) {
    const bool own = document.look() == Look::Trial &&
                     (!document.measuring() || document.job().trial.brace.id != document.job().fitted.brace.id);
    return own ? "trial/brace/torsion" : "fitted/brace/torsion";
}

QString as_edited(const Document& document, const QString& path) {
    if (path.endsWith("/bias_ratio")) return document.look_path() + "/bias_ratio";
    if (path.endsWith("/brace/torsion")) return brace_path(document);
    if (kind_of(path).isEmpty()) return path;
    return on_axle(document, path.section('/', 1, 1) == "front" ? End::Front : End::Rear, path.section('/', 2));
}

bool is_of_car(const QString& path) {
    if (path.startsWith("vehicle/grounds/") || path.startsWith("vehicle/use/")) return false;
    return path.startsWith("vehicle/") || !kind_of(path).isEmpty() || path.endsWith("/bias_ratio") ||
           path.endsWith("/brace/torsion");
}

QStringList axle_paths(const Document& document, End end, bool all) {
    const QString own = QString("vehicle/") + name_of(end) + "/";
    const auto on = [&](const QString& key) { return on_axle(document, end, key); };
    QStringList out;
    for (const job::FieldSeen& f : job::fields(document.job(), own.chopped(1).toStdString())) {
        const QString path = QString::fromStdString(f.path), key = path.mid(own.size());
        if (key.contains('/')) { // linkage, travel, wheels
            if (all) out << path;
            continue;
        }
        if (key == "bump_gap") out << on("tyres/rate") << on("springs/rate");
        if (key == "roll_centre_height") out << on("dampers/droop_gap") << on("dampers/droop_k");
        out << path;
    }
    if (!all) return out;
    for (const char* kind : fitted_kinds)
        for (const job::FieldSeen& f : job::fields(document.job(), on(kind).toStdString()))
            if (const QString path = QString::fromStdString(f.path); !out.contains(path)) out << path;
    return out;
}

QStringList grip_paths(const Document& document, End end) {
    const auto on = [&](const char* key) { return on_axle(document, end, key); };
    QStringList out;
    for (const char* key : {"nominal_load", "grip", "grip_fall", "stiffness", "stiffness_load", "camber_thrust",
                            "camber_loss", "best_camber", "relaxation"})
        out << on("tyres/") + key;
    out << on("stand/pressure") << on("tyres/best_pressure") << on("tyres/pressure_loss") << on("stand/left_grip")
        << on("stand/left_pressure") << on("stand/camber") << (QString("vehicle/") + name_of(end) + "/wheels")
        << on("dampers/bump_damping") << on("dampers/rebound_damping") << on("stand/differential") << on("stand/toe")
        << on("dampers/click") << on("dampers/bump_set") << on("dampers/rebound_set") << on("dampers/bump_clicks")
        << on("stand/bump_click") << on("dampers/rebound_clicks") << on("stand/rebound_click") << on("tyres/diameter")
        << on("tyres/rim_width") << on("tyres/rim_offset");
    return out;
}

} // namespace dervish::app
