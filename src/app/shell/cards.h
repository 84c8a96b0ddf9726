#pragma once
#include "app/document.h"
#include "core/say/working.h"

class QWidget;

namespace dervish::app {

/// The sum behind a figure, written out with this car's values.
void show_working(QWidget* parent, const Document& document, say::Figure figure);

/// All keys.
void show_keys(QWidget* parent, const QStringList& stations);

/// Asks for what a change of Fitted needs: mileage and reason. False when given up.
struct FitSheet {
    double odometer = 0; ///< m
    QString date, reason;
    bool measured = false; ///< what changes was measured on the car
};
bool ask_fit_sheet(QWidget* parent, const Document& document, bool found_so, FitSheet& sheet);

} // namespace dervish::app
