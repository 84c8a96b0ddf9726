#include "app/widgets/list_table.h"

#include "app/shell/theme.h"
#include "app/widgets/follow.h"
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
#include <QTableWidget>
#include <QVBoxLayout>

namespace dervish::app {
namespace {
constexpr int row_height = 28;
} // namespace

ListTable::ListTable(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), table_(new QTableWidget), problem_(new QLabel), tools_(new QWidget) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 4, 0, 4);
    table_->setObjectName("list");
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
    auto *more = new QPushButton(tr("Add a line")), *fewer = new QPushButton(tr("Take the last off"));
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
    connect(table_, &QTableWidget::cellChanged, this, &ListTable::type_cell);
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

QString ListTable::path(int row, int column) const {
    return QString("%1/%2/bar/%3/%4/%5")
        .arg(document_.look_path(), name_of(end_), form_ == job::Form::Walk ? "walk" : "points")
        .arg(row)
        .arg(qs(keys_[static_cast<std::size_t>(column)]));
}

void ListTable::refresh() {
    const int rows = static_cast<int>(form_ == job::Form::Walk ? bar().walk.size() : bar().points.size());
    setVisible(form_ != job::Form::Sizes);
    if (form_ == job::Form::Sizes) return;
    filling_ = true;
    keys_.clear();
    QStringList heads;
    job::Job copy = document_.job();
    job::Setup& setup = document_.look() == Look::Trial ? copy.trial : copy.fitted;
    job::BarData& bar_copy = setup[end_].bar;
    if (bar_copy.walk.empty()) bar_copy.walk.emplace_back(); // for its columns
    if (bar_copy.points.empty()) bar_copy.points.emplace_back();
    const std::string list = (document_.look_path() + (QString("/") + name_of(end_) + "")).toStdString() +
                             (form_ == job::Form::Walk ? "/bar/walk" : "/bar/points");
    for (const job::FieldRef& f : job::fields(copy, list + "/0")) {
        keys_.push_back(f.spec.key);
        const units::Unit unit = units::shown(f.spec.quantity, document_.units());
        heads << QString::fromUtf8(f.spec.label) + "\n" +
                     QString::fromUtf8(unit.symbol.data(), static_cast<qsizetype>(unit.symbol.size()));
        if (heads.size() == 1) heads << (form_ == job::Form::Walk ? tr("At its\nend") : tr("There"));
    }
    const int columns = static_cast<int>(heads.size());
    table_->setColumnCount(columns);
    table_->setRowCount(rows);
    table_->setHorizontalHeaderLabels(heads);
    table_->setFixedHeight(std::min(10, std::max(rows, 1)) * row_height + 56);
    problem_->clear();
    std::map<QString, job::FieldRef> known;
    for (const job::FieldRef& f : job::fields(copy, list)) known.emplace(qs(f.path), f);
    QIcon marks[3];
    for (int i = 0; i < 3; ++i) marks[i] = source_mark(static_cast<job::Source>(i), theme().ink);
    for (int row = 0; row < rows; ++row) {
        auto* mark = qobject_cast<QComboBox*>(table_->cellWidget(row, 1));
        if (!mark) {
            mark = new QComboBox;
            for (const char* name : job::mark_names) mark->addItem(tr(name));
            table_->setCellWidget(row, 1, mark);
            connect(mark, &QComboBox::activated, this, [this, row](int at) {
                document_.edit(tr("what is there"), {}, [&](job::Job& job) {
                    edit::set_mark(job, end_, static_cast<std::size_t>(row), static_cast<Mark>(at));
                });
            });
        }
        const auto i = static_cast<std::size_t>(row);
        mark->setCurrentIndex(static_cast<int>(form_ == job::Form::Walk ? bar().walk[i].mark : bar().points[i].mark));
        mark->setEnabled(writable_);
        for (int c = 0, key = 0; c < columns; ++c) {
            if (c == 1) continue;
            const QString at = path(row, key++), problem = document_.problem(at);
            QTableWidgetItem* item = table_->item(row, c);
            if (!item) table_->setItem(row, c, item = new QTableWidgetItem);
            if (item->text() != document_.shown(at)) item->setText(document_.shown(at));
            const job::FieldRef& field = known.at(at);
            item->setIcon(marks[static_cast<std::size_t>(field.value->source)]);
            item->setToolTip(tr("%1 %2; another source or spread: right click, or the menu key")
                                 .arg(source_word(field.value->source), spread_text(field, document_.units())));
            item->setForeground(problem.isEmpty() ? theme().ink : theme().caution);
            item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            item->setFlags(writable_ ? item->flags() | Qt::ItemIsEditable : item->flags() & ~Qt::ItemIsEditable);
            if (!problem.isEmpty() && problem_->text().isEmpty())
                problem_->setText(tr("Line %1: %2").arg(row + 1).arg(problem));
        }
    }
    for (int c = 0; c < columns; ++c) table_->setColumnWidth(c, c == 1 ? 74 : 72);
    problem_->setVisible(!problem_->text().isEmpty());
    tools_->setVisible(writable_);
    filling_ = false;
}

void ListTable::type_cell(int row, int column) {
    if (filling_ || column == 1) return;
    document_.type(path(row, column == 0 ? 0 : column - 1), table_->item(row, column)->text());
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
    if (!item || item->column() == 1 || !writable_) return;
    job::Job copy = document_.job();
    const int column = item->column() == 0 ? 0 : item->column() - 1;
    if (const auto field = job::field(copy, path(item->row(), column).toStdString()))
        ask_source(this, table_->viewport()->mapToGlobal(place), document_, *field);
}

void ListTable::change_rows(int by) {
    document_.edit(by > 0 ? tr("line added") : tr("line taken off"), {},
                   [&](job::Job& job) { by > 0 ? edit::add_bar_line(job, end_) : edit::remove_bar_line(job, end_); });
}

} // namespace dervish::app
