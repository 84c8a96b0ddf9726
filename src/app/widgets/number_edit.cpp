#include "app/widgets/number_edit.h"

#include "app/shell/theme.h"
#include "app/words.h"

#include <QDialog>
#include <QDialogButtonBox>
#include <QKeyEvent>
#include <QLabel>
#include <QPushButton>
#include <QStyle>
#include <QTableWidget>
#include <QTimer>
#include <QVBoxLayout>

namespace dervish::app {
namespace {
bool is_entry(const QWidget* w) {
    if (!w->isVisible() || !w->isEnabled() || !(w->focusPolicy() & Qt::TabFocus)) return false;
    if (const auto* edit = qobject_cast<const NumberEdit*>(w)) return !edit->isReadOnly();
    return qobject_cast<const QTableWidget*>(w) != nullptr;
}

void enter(QWidget* w) {
    w->setFocus(Qt::TabFocusReason);
    if (auto* edit = qobject_cast<QLineEdit*>(w)) edit->selectAll();
}
} // namespace

void to_next_entry(QWidget* from, int by) {
    for (QWidget* w = from;;) {
        w = by > 0 ? w->nextInFocusChain() : w->previousInFocusChain();
        if (w == from) return;
        if (is_entry(w)) {
            enter(w);
            return;
        }
    }
}

void to_first_entry(QWidget* within) {
    for (QWidget* w = within->nextInFocusChain(); w != within; w = w->nextInFocusChain())
        if (within->isAncestorOf(w) && is_entry(w)) {
            enter(w);
            return;
        }
}

void mark_bad(QLineEdit* line, bool bad) {
    if (line->property("bad").toBool() == bad) return; // polishing is slow
    line->setProperty("bad", bad);
    line->style()->unpolish(line);
    line->style()->polish(line);
}

NumberEdit::NumberEdit(const Document& document, const job::FieldSpec& spec, bool may_be_more, QWidget* parent)
    : QLineEdit(parent), document_(document), spec_(spec), may_be_more_(may_be_more) {
    setAlignment(Qt::AlignRight);
    setMaxLength(400);
    connect(this, &QLineEdit::textEdited, this, &NumberEdit::tell);
}

NumberEdit::~NumberEdit() { delete under_; }

QString NumberEdit::told() const { return under_ && under_->isVisible() ? under_->text() : QString(); }

void NumberEdit::tell() {
    QString words;
    bool bad = false;
    try {
        words = qs(
            job::understood(job::parse_entry(text().toStdString(), spec_, document_.units(), spec_.key, may_be_more_),
                            spec_, document_.units()));
    } catch (const BadInput& e) {
        bad = true;
        if (tells_problems_ && !text().trimmed().isEmpty()) words = qs(e.problem() + "; " + e.accepted());
    }
    if (words.isEmpty() || !isVisible()) {
        if (under_) under_->hide();
        return;
    }
    if (!under_ || under_->parent() != window()) {
        delete under_;
        under_ = new QLabel(window());
        under_->setObjectName("understood");
        under_->setIndent(0);
        under_->setAttribute(Qt::WA_TransparentForMouseEvents);
    }
    const QString style =
        QString("background: %1; border: 1px solid %2; padding: 1px 5px; font-size: 13px; color: %3;")
            .arg(theme().panel.name(), theme().rule.name(), (bad ? theme().caution : theme().ink).name());
    if (under_->styleSheet() != style) under_->setStyleSheet(style);
    under_->setText(words);
    // Its style's edge and padding, as the layout would find them, which takes long at every key.
    if (const QSize line = under_->fontMetrics().size(0, words); line.width() <= 280) {
        if (under_->wordWrap()) under_->setWordWrap(false);
        under_->resize(line + QSize(2 * 6, 2 * 2));
    } else {
        under_->setWordWrap(true);
        under_->setMaximumWidth(300);
        under_->adjustSize();
    }
    QPoint place = mapTo(window(), QPoint(width() - under_->width(), height() + 1));
    place.setX(std::clamp(place.x(), 2, std::max(2, window()->width() - under_->width() - 2)));
    if (place.y() + under_->height() > window()->height()) // no room below
        place.setY(mapTo(window(), QPoint(0, 0)).y() - under_->height() - 1);
    under_->move(place);
    under_->raise();
    under_->show();
}

void NumberEdit::focusInEvent(QFocusEvent* event) {
    QLineEdit::focusInEvent(event);
    just_clicked_ = event->reason() == Qt::MouseFocusReason;
}

void NumberEdit::focusOutEvent(QFocusEvent* event) {
    if (under_) under_->hide();
    QLineEdit::focusOutEvent(event);
}

void NumberEdit::hideEvent(QHideEvent* event) {
    if (under_) under_->hide();
    QLineEdit::hideEvent(event);
}

void NumberEdit::mouseReleaseEvent(QMouseEvent* event) {
    QLineEdit::mouseReleaseEvent(event);
    if (std::exchange(just_clicked_, false) && !hasSelectedText()) selectAll();
}

void NumberEdit::keyPressEvent(QKeyEvent* event) {
    const bool enters = event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter;
    if (event->key() == Qt::Key_F2 || event->key() == Qt::Key_Menu) {
        if (event->key() == Qt::Key_Menu || event->modifiers() & Qt::ShiftModifier)
            emit menu_asked();
        else
            emit source_asked();
        return;
    }
    QLineEdit::keyPressEvent(event);
    if (!enters) return;
    event->accept(); // no button of a card takes it as its own
    const QPointer<NumberEdit> still(this);
    if (still && !qobject_cast<QAbstractItemView*>(parentWidget() ? parentWidget()->parentWidget() : nullptr))
        to_next_entry(this, event->modifiers() & Qt::ShiftModifier ? -1 : +1);
}

NumberBox::NumberBox(Document& document, const job::FieldSpec& spec, double value, double step, QWidget* parent)
    : NumberEdit(document, spec, false, parent), value_(value), step_(step) {
    setObjectName(spec.key);
    setAccessibleName(spec.label);
    connect(this, &QLineEdit::editingFinished, this, &NumberBox::take);
    connect(&document, &Document::changed, this, [this] {
        if (!hasFocus()) show_value();
    });
    show_value();
}

void NumberBox::show_value() {
    if (property("bad").toBool()) return; // what was typed stays
    setText(qs(job::show(value_, spec(), document_.units())));
}

void NumberBox::set_value(double si) {
    mark_bad(this, false);
    value_ = si;
    show_value();
}

void NumberBox::take() {
    try {
        const bool untouched = text() == qs(job::show(value_, spec(), document_.units()));
        const double value =
            untouched ? value_ : job::parse(text().toStdString(), spec(), document_.units(), spec().key);
        mark_bad(this, false);
        setToolTip({});
        const bool news = value != std::exchange(value_, value);
        show_value();
        if (news) emit value_changed(value_);
    } catch (const BadInput& e) {
        mark_bad(this, true);
        setToolTip(qs(e.problem() + "; " + e.accepted()));
    }
}

void NumberBox::keyPressEvent(QKeyEvent* event) {
    const int by = event->key() == Qt::Key_Up ? 1 : event->key() == Qt::Key_Down ? -1 : 0;
    if (by == 0) return NumberEdit::keyPressEvent(event);
    const double to = std::clamp(value_ + by * step_, spec().lowest, spec().highest);
    if (to == value_) return;
    set_value(to);
    emit value_changed(to);
}

std::optional<double> ask_number(QWidget* parent, Document& document, const QString& title, const job::FieldSpec& spec,
                                 double value) {
    QDialog card(parent);
    card.setObjectName("number card");
    card.setWindowTitle(title);
    auto* column = new QVBoxLayout(&card);
    column->addWidget(new QLabel(with_unit(spec.label, spec.quantity, document.units())));
    auto* edit = new NumberEdit(document, spec);
    edit->setObjectName("number");
    edit->setText(qs(job::show(value, spec, document.units())));
    column->addWidget(edit);
    auto* problem = new QLabel;
    problem->setWordWrap(true);
    problem->setStyleSheet("font-size: 13px; color: " + theme().caution.name());
    column->addWidget(problem);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
    column->addWidget(buttons);
    std::optional<double> out;
    const auto take = [&] {
        try {
            out = job::parse(edit->text().toStdString(), spec, document.units(), spec.key);
            card.accept();
        } catch (const BadInput& e) {
            problem->setText(qs(e.problem() + "; " + e.accepted()));
        }
    };
    QObject::connect(buttons, &QDialogButtonBox::accepted, &card, take);
    QObject::connect(edit, &QLineEdit::returnPressed, &card, take);
    QObject::connect(buttons, &QDialogButtonBox::rejected, &card, &QDialog::reject);
    card.setMinimumWidth(300);
    edit->setFocus();
    edit->selectAll();
    card.exec();
    return out;
}

NumberDelegate::NumberDelegate(const Document& document, SpecOf spec, std::function<bool(int)> may_be_more,
                               QObject* parent)
    : QStyledItemDelegate(parent), document_(document), spec_(std::move(spec)), may_be_more_(std::move(may_be_more)) {}

QWidget* NumberDelegate::createEditor(QWidget* parent, const QStyleOptionViewItem&, const QModelIndex& index) const {
    auto* edit = new NumberEdit(document_, spec_(index.row(), index.column()), may_be_more_(index.column()), parent);
    edit->setFrame(false);
    auto* pause = new QTimer(edit);
    pause->setSingleShot(true);
    pause->setInterval(700);
    auto* self = const_cast<NumberDelegate*>(this);
    connect(edit, &QLineEdit::textEdited, pause, qOverload<>(&QTimer::start));
    connect(pause, &QTimer::timeout, self, [self, edit] {
        // An emptied cell takes its reading away, so that waits until it is left.
        if (!edit->text().trimmed().isEmpty()) emit self->commitData(edit);
    });
    return edit;
}

void NumberDelegate::setEditorData(QWidget* editor, const QModelIndex& index) const {
    auto* edit = static_cast<NumberEdit*>(editor);
    if (edit->isModified()) return; // the person's own text stands while it is typed
    edit->setText(index.data(Qt::EditRole).toString());
    edit->selectAll();
}

bool NumberDelegate::eventFilter(QObject* editor, QEvent* event) {
    if (event->type() == QEvent::KeyPress) {
        const auto* key = static_cast<QKeyEvent*>(event);
        if (key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter) {
            auto* edit = static_cast<QWidget*>(editor);
            emit commitData(edit);
            emit closeEditor(edit, key->modifiers() & Qt::ShiftModifier ? EditPreviousItem : EditNextItem);
            return true;
        }
    }
    return QStyledItemDelegate::eventFilter(editor, event);
}

} // namespace dervish::app
