#pragma once
#include "app/book/story_view.h"
#include "core/say/report.h"

#include <QWidget>
#include <functional>

class QLabel;

namespace dervish::app {

/// What leaves the book for paper and other programs: reports, the sheets by which bars and links are made, the book as
/// a table, what is due as a calendar.
class PaperRow : public QWidget {
    Q_OBJECT

public:
    PaperRow(Document& document, StoryView& story, QWidget* parent = nullptr);
    /// A report into a file, PDF or HTML by its name; of the test chosen on the line. Throws BadInput.
    void report_to(const QString& path, say::ReportOf of);
    /// The sheet by which the looked-at bar of an end is made: PDF, SVG, DXF or CSV by the file's name. Throws
    /// BadInput.
    void bar_to(const QString& path, End end);
    /// The same of its links, PDF, SVG or DXF; `head` as book::link_build().
    void link_to(const QString& path, End end, double head);

private:
    /// Asks where to, writes, and says what came of it.
    void write(const QString& title, const QString& name, const std::function<void(const QString& path)>& how);
    void write_link(End end);
    const job::AxleSetup& axle(End end) const;
    Document& document_;
    StoryView& story_;
    QLabel* written_; ///< where a file went, or why not
};

} // namespace dervish::app
