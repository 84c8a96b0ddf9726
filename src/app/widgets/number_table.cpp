#include "app/widgets/number_table.h"

#include "app/shell/theme.h"
#include "app/words.h"

namespace dervish::app {

NumberTable::NumberTable(const Document& document, const QString& name, const QString& told,
                         NumberDelegate::SpecOf spec_of) {
    setObjectName(name);
    setAccessibleName(told);
    setItemDelegate(new NumberDelegate(
        document, std::move(spec_of), [](int) { return false; }, this));
    connect(this, &QTableWidget::cellChanged, this, [this](int row, int column) {
        if (!filling_) emit typed(row, column, item(row, column)->text().trimmed());
    });
}

NumberTable::Problem NumberTable::show_cells(int rows, const QStringList& heads, bool writable,
                                             const std::function<std::optional<Cell>(int, int)>& cell) {
    filling_ = true;
    setColumnCount(static_cast<int>(heads.size()));
    setRowCount(rows);
    setHorizontalHeaderLabels(heads);
    Problem out;
    for (int row = 0; row < rows; ++row)
        for (int column = 0; column < columnCount(); ++column) {
            const auto shown = cell(row, column);
            if (!shown) continue;
            QTableWidgetItem* at = item(row, column);
            if (!at) setItem(row, column, at = new QTableWidgetItem);
            if (at->text() != shown->text) at->setText(shown->text);
            at->setIcon(shown->mark);
            at->setToolTip(shown->hint);
            at->setForeground(shown->problem.isEmpty() ? theme().ink : theme().caution);
            at->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            at->setFlags(writable ? at->flags() | Qt::ItemIsEditable : at->flags() & ~Qt::ItemIsEditable);
            if (out.words.isEmpty() && !shown->problem.isEmpty()) out = {row, shown->problem};
        }
    filling_ = false;
    return out;
}

NumberTable::Cell reading_cell(const Document& document, const std::string& key, const job::FieldSpec& spec,
                               std::optional<double> kept, const QString& half) {
    const auto waits = document.draft(key, spec.quantity);
    if (!waits) return {kept ? qs(job::show(*kept, spec, document.units())) : QString(), {}};
    try {
        job::parse(waits->toStdString(), spec, document.units(), key);
        return {*waits, half};
    } catch (const BadInput& e) {
        return {*waits, qs(e.problem() + "; " + e.accepted())};
    }
}

} // namespace dervish::app
