#include "app/prove/test_sheet.h"

#include "app/paint/page.h"
#include "app/words.h"
#include "core/say/test_sheet.h"

#include <QPrintDialog>
#include <QPrinter>

namespace dervish::app {

void put_test_sheet(QPagedPaintDevice& paper, const job::Job& job, const job::PlannedTest& test, units::System system) {
    paint::print_html(paper, qs(say::test_sheet(job, test, system)));
}

void print_test_sheet(QWidget* parent, const job::Job& job, const job::PlannedTest& test, units::System system) {
    QPrinter printer(QPrinter::HighResolution);
    QPrintDialog dialog(&printer, parent);
    if (dialog.exec() == QDialog::Accepted) put_test_sheet(printer, job, test, system);
}

} // namespace dervish::app
