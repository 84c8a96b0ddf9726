#pragma once
#include "core/job/job.h"

class QPagedPaintDevice;
class QWidget;

namespace dervish::app {

/// The sheet for the clipboard: what is asked, steps, runs with boxes to fill, cautions; an order drawn by lot on a
/// page of its own, to be kept from the driver. Asks for the printer.
void print_test_sheet(QWidget* parent, const job::Job& job, const job::PlannedTest& test, units::System system);
/// The same on what is given.
void put_test_sheet(QPagedPaintDevice& paper, const job::Job& job, const job::PlannedTest& test, units::System system);

} // namespace dervish::app
