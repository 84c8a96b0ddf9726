#include "app/book/paper_row.h"

#include "app/book/papers.h"
#include "app/widgets/page_pieces.h"
#include "app/words.h"
#include "core/job/fields.h"
#include "store/book_files.h"

#include <QDateTime>
#include <QDir>
#include <QFileDialog>
#include <QGuiApplication>
#include <QInputDialog>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QVBoxLayout>

namespace dervish::app {
namespace {
const job::FieldSpec head_spec{"head", "Joint, centre to shoulder", units::Quantity::Length, job::Tool::Calliper, 0,
                               0.499};
}

PaperRow::PaperRow(Document& document, StoryView& story, QWidget* parent)
    : QWidget(parent), document_(document), story_(story), written_(named_words("book written")) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    auto* row = new QHBoxLayout;
    auto* report = named_button(tr("Paper …"), "book report");
    auto* table = named_button(tr("Table …"), "book table");
    auto* calendar = named_button(tr("Calendar …"), "book calendar");
    table->setToolTip(tr("The whole book as a table (CSV)"));
    calendar->setToolTip(tr("What is due, for a calendar (iCalendar)"));
    auto* papers = new QMenu(report);
    int paper = 0;
    for (const QString& word :
         {tr("of the job"), tr("of the chosen test"), tr("of the bars"), tr("of what differs from the standard")})
        connect(papers->addAction(word), &QAction::triggered, this, [this, of = static_cast<say::ReportOf>(paper++)] {
            write(tr("Report, as PDF or HTML by its name"), "report.pdf",
                  [this, of](const QString& path) { report_to(path, of); });
        });
    papers->addSeparator();
    for (const End end : both_ends)
        connect(papers->addAction(end == End::Front ? tr("to make the front bar by") : tr("to make the rear bar by")),
                &QAction::triggered, this, [this, end] {
                    write(tr("The bar, as PDF, SVG, DXF or CSV by its name"), "bar.pdf",
                          [this, end](const QString& path) { bar_to(path, end); });
                });
    for (const End end : both_ends)
        connect(papers->addAction(end == End::Front ? tr("to make the front links by …")
                                                    : tr("to make the rear links by …")),
                &QAction::triggered, this, [this, end] { write_link(end); });
    report->setMenu(papers);
    for (QPushButton* b : {report, table, calendar}) {
        b->setStyleSheet("padding-left: 6px; padding-right: 6px;");
        row->addWidget(b);
    }
    column->addLayout(row);
    written_->hide();
    column->addWidget(written_);
    connect(table, &QPushButton::clicked, this, [this] {
        write(tr("The book as a table"), "book.csv",
              [this](const QString& path) { document_.write_made(path, store::book_csv(*document_.job_as_it_is())); });
    });
    connect(calendar, &QPushButton::clicked, this, [this] {
        const std::string stamp = QDateTime::currentDateTimeUtc().toString("yyyyMMdd'T'HHmmss'Z'").toStdString();
        write(tr("What is due, for a calendar"), "due.ics", [this, stamp](const QString& path) {
            document_.write_made(path, store::calendar(*document_.job_as_it_is(), story_.now(), stamp));
        });
    });
}

void PaperRow::write(const QString& title, const QString& name, const std::function<void(const QString&)>& how) {
    const QString path = QFileDialog::getSaveFileName(this, title, QDir::homePath() + "/" + name);
    if (path.isEmpty()) return;
    QGuiApplication::setOverrideCursor(Qt::WaitCursor); // a report's bands take a second
    try {
        how(path);
        written_->setText(tr("Written: %1").arg(path));
    } catch (const BadInput& e) {
        written_->setText(e.where() == "test" ? tr("Choose the test on the line first.")
                                              : qs(e.problem() + "; " + e.accepted()));
    }
    QGuiApplication::restoreOverrideCursor();
    written_->show();
}

const job::AxleSetup& PaperRow::axle(End end) const {
    const job::AxleSetup& a = document_.looked_setup()[end];
    if (!a.fitted)
        throw BadInput(document_.look_path().toStdString() + "/" + name_of(end), "no bar is fitted there",
                       "an axle with a bar");
    return a;
}

void PaperRow::report_to(const QString& path, say::ReportOf of) {
    const int test = story_.chosen() ? story_.moments()[*story_.chosen()].test : -1;
    document_.write_made(path, report_paper(path, *document_.job_as_it_is(), *document_.attachments(), of, test,
                                            story_.today(), document_.units()));
}

void PaperRow::bar_to(const QString& path, End end) {
    document_.write_made(path, bar_paper(path, axle(end), document_.units()));
}

void PaperRow::link_to(const QString& path, End end, double head) {
    if (axle(end).held != job::Held::Links)
        throw BadInput(document_.look_path().toStdString() + "/" + name_of(end), "its bar has no links",
                       "an axle whose bar pulls on links");
    document_.write_made(path, link_paper(path, axle(end).links, head, document_.units()));
}

void PaperRow::write_link(End end) {
    const QString unit = qs(units::shown(units::Quantity::Length, document_.units()).symbol);
    bool go_on = false;
    const QString typed = QInputDialog::getText(
        this, tr("What is cut"),
        tr("From a joint's centre to the shoulder with which it meets the body, %1,\nas its maker gives it. Empty: not "
           "known; the sheet then says what is to be taken off.")
            .arg(unit),
        QLineEdit::Normal, {}, &go_on);
    if (!go_on) return;
    write(tr("The links, as PDF, SVG or DXF by its name"), "links.pdf", [&](const QString& path) {
        const std::string head = typed.trimmed().toStdString();
        link_to(path, end, head.empty() ? 0 : job::parse(head, head_spec, document_.units(), "head"));
    });
}

} // namespace dervish::app
