#include "app/prove/test_sheet.h"

#include "app/words.h"
#include "core/say/test_sheet.h"

#include <QPrintDialog>
#include <QPrinter>
#include <QTextDocument>

namespace dervish::app {

void put_test_sheet(QPagedPaintDevice& paper, const job::Job& job, const job::PlannedTest& test, units::System system) {
    QTextDocument sheet;
    sheet.setHtml(qs(say::test_sheet(job, test, system)));
    sheet.print(&paper);
}

void print_test_sheet(QWidget* parent, const job::Job& job, const job::PlannedTest& test, units::System system) {
    QPrinter printer(QPrinter::HighResolution);
    QPrintDialog dialog(&printer, parent);
    if (dialog.exec() == QDialog::Accepted) put_test_sheet(printer, job, test, system);
}

} // namespace dervish::app
