#include "app/widgets/field_row.h"

#include "app/shell/theme.h"

#include <QGridLayout>
#include <QInputDialog>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPainter>
#include <QStyle>
#include <QTimer>
#include <QToolButton>

namespace dervish::app {
namespace {
constexpr const char* source_words[] = {"measured", "quoted", "assumed"};

QString qs(const std::string& s) { return QString::fromStdString(s); }
QString qs(std::string_view s) { return QString::fromUtf8(s.data(), static_cast<qsizetype>(s.size())); }
} // namespace

void paint_source(QPainter& painter, const QRectF& box, job::Source source, const QColor& colour) {
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing, false);
    painter.setPen(QPen(colour, 1));
    painter.setBrush(Qt::NoBrush);
    if (source == job::Source::Measured) painter.setBrush(colour);
    painter.drawRect(box);
    if (source == job::Source::Quoted)
        painter.fillRect(QRectF(box.topLeft(), QSizeF(box.width() / 2, box.height())), colour);
    painter.restore();
}

FieldRow::FieldRow(Document& document, const job::FieldRef& field, QWidget* parent)
    : QWidget(parent), document_(document), path_(qs(field.path)), spec_(field.spec),
      label_(new QLabel(field.spec.label)), unit_(new QLabel), error_(new QLabel), edit_(new QLineEdit),
      source_(new QToolButton), pause_(new QTimer(this)) {
    auto* grid = new QGridLayout(this);
    grid->setContentsMargins(0, 2, 0, 2);
    grid->setHorizontalSpacing(5);
    grid->setVerticalSpacing(1);
    grid->setColumnStretch(0, 1);
    label_->setToolTip(field.spec.hint);
    label_->setBuddy(edit_);
    edit_->setObjectName(path_);
    edit_->setAccessibleName(field.spec.label);
    edit_->setAccessibleDescription(field.spec.hint);
    edit_->setAlignment(Qt::AlignRight);
    edit_->setFixedWidth(74);
    unit_->setFixedWidth(46);
    label_->setWordWrap(true);
    label_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    unit_->setStyleSheet("font-size: 12px;");
    source_->setFixedSize(58, 24);
    source_->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
    source_->setStyleSheet("QToolButton { font-size: 11px; font-weight: normal; padding: 0 2px; border: none; "
                           "background: transparent; } QToolButton:focus { border: 1px solid palette(text); }");
    source_->setObjectName("source " + path_);
    error_->setWordWrap(true);
    error_->setStyleSheet("font-size: 12px; color: " + theme().caution.name());
    error_->hide();
    grid->addWidget(label_, 0, 0);
    grid->addWidget(edit_, 0, 1);
    grid->addWidget(unit_, 0, 2);
    grid->addWidget(source_, 0, 3);
    grid->addWidget(error_, 1, 0, 1, 4);
    connect(edit_, &QLineEdit::textEdited, this, [this](const QString& text) { document_.type(path_, text); });
    connect(source_, &QToolButton::clicked, this, &FieldRow::choose_source);
    // The "2" of "2850" is no mistake yet: told when the hand pauses or leaves.
    pause_->setSingleShot(true);
    pause_->setInterval(350);
    connect(pause_, &QTimer::timeout, this, &FieldRow::tell_problem);
    connect(edit_, &QLineEdit::editingFinished, this, &FieldRow::tell_problem);
}

void FieldRow::refresh(const job::FieldRef& field, bool writable) {
    const bool waits = document_.job().drafts.contains(field.path);
    const Seen now{*field.value, document_.units(), writable};
    if (!waits && seen_ == now && !edit_->hasFocus()) return;
    seen_ = waits ? std::nullopt : std::optional(now);
    value_ = *field.value;
    const QString text = waits ? document_.shown(path_) : qs(job::show(value_.value, spec_, document_.units()));
    // While it has the caret the person's own text stands, as long as it means the shown value.
    bool same = edit_->text() == text;
    if (!same && edit_->hasFocus() && !waits) {
        try {
            const std::string typed = edit_->text().toStdString();
            const auto readings = job::parse_readings(typed, spec_, document_.units(), field.path);
            same =
                (readings ? readings->value : job::parse(typed, spec_, document_.units(), field.path)) == value_.value;
        } catch (const BadInput&) {
        }
    }
    if (!same) edit_->setText(text);
    edit_->setReadOnly(!writable);
    unit_->setText(qs(units::shown(spec_.quantity, document_.units()).symbol));

    const QColor colour = writable ? theme().ink : theme().soft;
    QPixmap glyph(10, 10);
    glyph.fill(Qt::transparent);
    QPainter painter(&glyph);
    paint_source(painter, QRectF(0, 0, 9, 9), value_.source, colour);
    painter.end();
    source_->setIcon(glyph);
    source_->setEnabled(writable);
    const double factor = units::shown(spec_.quantity, document_.units()).factor;
    const double spread = value_.sigma / factor;
    source_->setText(spread > 0 ? "± " + qs(units::trimmed(spread, spread < 0.1  ? 3
                                                                   : spread < 1  ? 2
                                                                   : spread < 10 ? 1
                                                                                 : 0))
                                : QString());
    const QString word = source_words[static_cast<int>(value_.source)];
    source_->setToolTip(tr("%1, one sigma %2. Click to change.").arg(word, source_->text()));
    source_->setAccessibleName(tr("source of %1: %2").arg(spec_.label, word));

    if (waits && edit_->hasFocus() && error_->isHidden())
        pause_->start();
    else
        tell_problem();
}

void FieldRow::tell_problem() {
    pause_->stop();
    const QString problem = document_.problem(path_);
    if (problem == error_->text() && error_->isHidden() == problem.isEmpty()) return;
    error_->setText(problem);
    error_->setVisible(!problem.isEmpty());
    if (edit_->property("bad").toBool() != !problem.isEmpty()) {
        edit_->setProperty("bad", !problem.isEmpty());
        edit_->style()->unpolish(edit_);
        edit_->style()->polish(edit_);
    }
}

QString FieldRow::error() const { return error_->isVisibleTo(this) ? error_->text() : QString(); }

void FieldRow::choose_source() {
    QMenu menu(this);
    for (int i = 0; i < 3; ++i) {
        const auto source = static_cast<job::Source>(i);
        const double usual =
            job::usual_sigma(spec_, source, value_.value) / units::shown(spec_.quantity, document_.units()).factor;
        QAction* action = menu.addAction(tr("%1, ± %2 usual").arg(source_words[i], qs(units::trimmed(usual, 3))));
        connect(action, &QAction::triggered, this, [this, source] { document_.set_source(path_, source); });
    }
    menu.addSeparator();
    connect(menu.addAction(tr("another spread …")), &QAction::triggered, this, [this] {
        const units::Unit unit = units::shown(spec_.quantity, document_.units());
        bool good = false;
        const double spread =
            QInputDialog::getDouble(this, tr("Spread of %1").arg(spec_.label), tr("One sigma, %1").arg(qs(unit.symbol)),
                                    value_.sigma / unit.factor, 0, 1e9, 4, &good);
        if (good) document_.set_sigma(path_, spread * unit.factor);
    });
    menu.exec(source_->mapToGlobal(QPoint(0, source_->height())));
}

} // namespace dervish::app
