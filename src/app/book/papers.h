#pragma once
#include "core/say/job_sheet.h"
#include "core/say/report.h"
#include "store/archive.h"

#include <QString>

class QPagedPaintDevice;

/// What goes on paper: reports, the job sheet, the sheets by which a bar and a link are made. As PDF by Qt's own
/// writer, drawings as lines and letters, or as open files: the bytes of a file, whose kind is told by the name it will
/// have. All throw BadInput for what cannot be drawn.
namespace dervish::app {

/// PDF or HTML. `test`: of ReportOf::Test. A shop's own page, report.html in the data folder, takes the usual one's
/// place.
std::string report_paper(const QString& path, const job::Job& job, const store::Members& attached, say::ReportOf of,
                         int test, const QString& today, units::System system);

/// A bar as PDF in its own size, SVG, DXF or the table of its bends as CSV.
std::string bar_paper(const QString& path, const job::Assembly& assembly, units::System system);
/// A link as PDF, SVG or DXF; `head` as book::link_build().
std::string link_paper(const QString& path, const job::LinkData& links, double head, units::System system);

/// On any device that takes pages.
void put_job_sheet(QPagedPaintDevice& paper, const job::Job& job, const say::JobSheet& sheet, units::System system,
                   const std::vector<std::string>& steps_done);

} // namespace dervish::app
