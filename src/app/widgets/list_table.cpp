#include "app/widgets/list_table.h"

#include "app/shell/theme.h"
#include "app/widgets/follow.h"
#include "app/widgets/number_table.h"
#include "app/widgets/source_mark.h"
#include "app/words.h"
#include "core/edit/setups.h"
#include "core/job/describe.h"
#include "core/job/fields.h"

#include <QComboBox>
#include <QContextMenuEvent>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

namespace dervish::app {
namespace {
constexpr int row_height = 28, mark_column = 1;
} // namespace

ListTable::ListTable(Document& document, QWidget* parent)
    : QWidget(parent), document_(document),
      table_(new NumberTable(document, "list", tr("Lines of the bar"),
                             [this](int, int column) { return spec_at(column); })),
      problem_(new QLabel), tools_(new QWidget) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 4, 0, 4);
    table_->verticalHeader()->setDefaultSectionSize(row_height);
    table_->verticalHeader()->setFixedWidth(22);
    table_->setHorizontalScrollMode(QAbstractItemView::ScrollPerPixel);
    column->addWidget(table_);
    problem_->setWordWrap(true);
    problem_->setObjectName("list problem");
    problem_->setStyleSheet("font-size: 13px; color: " + theme().caution.name());
    column->addWidget(problem_);
    auto* buttons = new QHBoxLayout(tools_);
    buttons->setContentsMargins(0, 0, 0, 0);
    auto *more = new QPushButton(tr("Add a line")), *fewer = new QPushButton(tr("Remove the last"));
    more->setObjectName("add line");
    fewer->setObjectName("take line off");
    buttons->addWidget(more);
    buttons->addWidget(fewer);
    buttons->addStretch();
    column->addWidget(tools_);
    connect(more, &QPushButton::clicked, this, [this] { change_rows(+1); });
    connect(fewer, &QPushButton::clicked, this, [this] { change_rows(-1); });
    table_->setContextMenuPolicy(Qt::CustomContextMenu);
    table_->setIconSize({9, 9});
    table_->installEventFilter(this);
    connect(table_, &QTableWidget::customContextMenuRequested, this, &ListTable::ask_about);
    connect(table_, &NumberTable::typed, this,
            [this](int row, int at, const QString& text) { document_.type(path(row, at), text); });
    new Follow(document_, this, [this] { refresh(); });
}

void ListTable::show_list(End end, job::Form form, bool writable) {
    end_ = end;
    form_ = form;
    writable_ = writable;
    refresh();
}

const job::BarData& ListTable::bar() const {
    const job::Setup& s = document_.looked_setup();
    return s[end_].bar;
}

const job::FieldSpec& ListTable::spec_at(int column) const {
    return specs_[static_cast<std::size_t>(column < mark_column ? column : column - 1)];
}

QString ListTable::path(int row, int column) const {
    return QString("%1/%2/bar/%3/%4/%5")
        .arg(document_.look_path(), name_of(end_), form_ == job::Form::Walk ? "walk" : "points")
        .arg(row)
        .arg(spec_at(column).key);
}

void ListTable::refresh() {
    const bool walk = form_ == job::Form::Walk;
    const int rows = static_cast<int>(walk ? bar().walk.size() : bar().points.size());
    setVisible(form_ != job::Form::Sizes);
    if (form_ == job::Form::Sizes) return;
    specs_.clear();
    job::Job copy = document_.job();
    job::Setup& setup = document_.look() == Look::Trial ? copy.trial : copy.fitted;
    job::BarData& bar_copy = setup[end_].bar;
    if (bar_copy.walk.empty()) bar_copy.walk.emplace_back(); // for its columns
    if (bar_copy.points.empty()) bar_copy.points.emplace_back();
    const std::string list =
        QString("%1/%2/bar/%3").arg(document_.look_path(), name_of(end_), walk ? "walk" : "points").toStdString();
    QStringList heads;
    for (const job::FieldSeen& f : job::fields(std::as_const(copy), list + "/0")) {
        specs_.push_back(f.spec);
        heads << qs(f.spec.label) + "\n" + qs(units::shown(f.spec.quantity, document_.units()).symbol);
        if (heads.size() == 1) heads << (walk ? tr("At its\nend") : tr("There"));
    }
    std::map<QString, job::FieldSeen> known;
    for (const job::FieldSeen& f : job::fields(std::as_const(copy), list)) known.emplace(qs(f.path), f);
    QIcon marks[3];
    for (int i = 0; i < 3; ++i) marks[i] = source_mark(static_cast<job::Source>(i), theme().ink);
    table_->setFixedHeight(std::min(10, std::max(rows, 1)) * row_height + 56);
    const auto problem =
        table_->show_cells(rows, heads, writable_, [&](int row, int column) -> std::optional<NumberTable::Cell> {
            if (column == mark_column) return {};
            const QString at = path(row, column);
            const job::FieldSeen& field = known.at(at);
            return NumberTable::Cell{document_.shown(at), document_.problem(at),
                                     marks[static_cast<std::size_t>(field.value->source)],
                                     tr("%1 %2; another source or spread: right click, or the menu key")
                                         .arg(source_word(field.value->source), spread_text(field, document_.units()))};
        });
    for (int row = 0; row < rows; ++row) show_mark(row);
    for (int c = 0; c < table_->columnCount(); ++c) table_->setColumnWidth(c, c == mark_column ? 74 : 72);
    problem_->setText(problem.words.isEmpty() ? QString() : tr("Line %1: %2").arg(problem.row + 1).arg(problem.words));
    problem_->setVisible(!problem.words.isEmpty());
    tools_->setVisible(writable_);
}

void ListTable::show_mark(int row) {
    auto* mark = qobject_cast<QComboBox*>(table_->cellWidget(row, mark_column));
    if (!mark) {
        mark = new QComboBox;
        for (const char* name : job::mark_names) mark->addItem(tr(name));
        table_->setCellWidget(row, mark_column, mark);
        connect(mark, &QComboBox::activated, this, [this, row](int at) {
            document_.edit(tr("what is there"), {}, [&](job::Job& job) {
                edit::set_mark(job, end_, static_cast<std::size_t>(row), static_cast<Mark>(at));
            });
        });
    }
    const auto i = static_cast<std::size_t>(row);
    mark->setCurrentIndex(static_cast<int>(form_ == job::Form::Walk ? bar().walk[i].mark : bar().points[i].mark));
    mark->setEnabled(writable_);
}

bool ListTable::eventFilter(QObject* watched, QEvent* event) {
    // The menu key speaks of the cell with the caret, wherever the pointer is.
    if (event->type() == QEvent::ContextMenu &&
        static_cast<QContextMenuEvent*>(event)->reason() == QContextMenuEvent::Keyboard) {
        if (const QTableWidgetItem* item = table_->currentItem()) ask_about(table_->visualItemRect(item).center());
        return true;
    }
    return QWidget::eventFilter(watched, event);
}

void ListTable::ask_about(QPoint place) {
    const QTableWidgetItem* item = table_->itemAt(place);
    if (!item || item->column() == mark_column || !writable_) return;
    if (const auto field = job::field(document_.job(), path(item->row(), item->column()).toStdString()))
        ask_source(this, table_->viewport()->mapToGlobal(place), document_, *field);
}

void ListTable::change_rows(int by) {
    document_.edit(by > 0 ? tr("line added") : tr("line removed"), {},
                   [&](job::Job& job) { by > 0 ? edit::add_bar_line(job, end_) : edit::remove_bar_line(job, end_); });
}

} // namespace dervish::app
