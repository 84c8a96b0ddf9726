#pragma once
#include "app/document.h"
#include "core/say/job_sheet.h"

#include <QWidget>

class QCheckBox;
class QVBoxLayout;

namespace dervish::app {

class EntryRow;

/// The sheet from Fitted to Trial, step under step, large enough to be ticked with one finger; what is measured on the
/// way is typed where it is measured and goes into the set-up checks. Of two other setups it is only read and printed.
class SheetView : public QWidget {
    Q_OBJECT

public:
    explicit SheetView(Document& document, QWidget* parent = nullptr);
    void refresh();
    /// Nothing: Fitted, and Trial.
    void set_setups(std::optional<job::Setup> from, std::optional<job::Setup> to);
    bool is_to_do() const { return !from_ && !to_; } ///< from Fitted to Trial: it can be ticked
    const say::JobSheet& sheet() const { return sheet_; }
    std::size_t done() const; ///< steps of it that are ticked

private:
    void build();
    Document& document_;
    std::optional<job::Setup> from_, to_;
    say::JobSheet sheet_;
    QString built_; ///< words of the sheet that stands here
    QVBoxLayout* column_;
    QWidget* body_ = nullptr;
    std::vector<std::pair<std::string, QCheckBox*>> ticks_;
    std::vector<EntryRow*> rows_;
};

} // namespace dervish::app
