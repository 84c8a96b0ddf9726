#include "app/widgets/field_panel.h"
#include "core/edit/parts.h"
#include "core/job/fields.h"

#include "app/shell/theme.h"
#include "app/widgets/choice_row.h"
#include "app/widgets/field_row.h"
#include "app/widgets/follow.h"
#include "app/widgets/number_edit.h"
#include "app/widgets/source_mark.h"

#include <QCheckBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QVBoxLayout>
#include <algorithm>
#include <iterator>

namespace dervish::app {

namespace {
/// "Arm's front, behind": with the part that a place belongs to, where a panel shows several.
QString label_of(const job::FieldSeen& field) {
    const QStringList path = QString::fromStdString(field.path).split('/');
    bool entry = false; // of a list by its number
    path[path.size() - 2].toInt(&entry);
    const bool of_part = path.size() > 4 && (!entry || path[path.size() - 3] == "points") && !path.contains("springs");
    const QString own = field.spec.label;
    return of_part ? QString::fromStdString(field.group) + ", " + own.left(1).toLower() + own.mid(1) : own;
}

} // namespace

FieldPanel::FieldPanel(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), layout_(new QVBoxLayout(this)), note_(new QLabel) {
    layout_->setContentsMargins(0, 0, 0, 0);
    layout_->setSpacing(0);
    note_->setObjectName("where the part stands");
    note_->setWordWrap(true);
    note_->setStyleSheet("font-size: 13px; color: " + theme().soft.name());
    layout_->addWidget(note_);
    new Follow(document_, this, [this] { refresh(); });
}

void FieldPanel::show_fields(const QStringList& prefixes, bool writable, bool with_choices) {
    // What stays is refreshed by itself after a change.
    if (prefixes == prefixes_ && writable == writable_ && with_choices == with_choices_) return;
    prefixes_ = prefixes;
    writable_ = writable;
    with_choices_ = with_choices;
    refresh();
}

void FieldPanel::refresh() {
    std::vector<job::FieldSeen> wanted;
    std::vector<job::ChoiceRef> choices; // their places counted among `wanted`
    for (const QString& prefix : prefixes_) {
        const std::string exact = prefix.toStdString();
        if (with_choices_)
            for (job::ChoiceRef& c : job::choices(document_.job(), exact)) {
                c.before += wanted.size();
                choices.push_back(std::move(c));
            }
        std::ranges::move(job::fields(document_.job(), exact), std::back_inserter(wanted));
    }
    const auto is = [](const auto& ref, const auto* row) {
        return row->path() == QLatin1String(ref.path.data(), static_cast<qsizetype>(ref.path.size()));
    };
    if (!std::equal(wanted.begin(), wanted.end(), rows_.begin(), rows_.end(), is) ||
        !std::equal(choices.begin(), choices.end(), choices_.begin(), choices_.end(), is)) {
        const auto drop = [&](auto& rows) {
            for (QWidget* row : rows) {
                layout_->removeWidget(row);
                row->hide();
                row->deleteLater();
            }
            rows.clear();
        };
        drop(rows_);
        drop(choices_);
        const auto put = [&](auto* row, auto& rows) {
            rows.push_back(row);
            layout_->insertWidget(layout_->count() - 1, row); // the note stays last
            row->show();                                      // at once, so that it can take the focus
        };
        for (std::size_t i = 0; i <= wanted.size(); ++i) {
            while (choices_.size() < choices.size() && choices[choices_.size()].before <= i)
                put(new ChoiceRow(document_, choices[choices_.size()], this), choices_);
            if (i < wanted.size()) put(new FieldRow(document_, wanted[i], label_of(wanted[i]), this), rows_);
        }
    }
    for (std::size_t i = 0; i < rows_.size(); ++i) rows_[i]->refresh(wanted[i], writable_);
    for (std::size_t i = 0; i < choices_.size(); ++i) choices_[i]->refresh(choices[i], writable_);
    QStringList places;
    QStringList parts;
    for (const QString& prefix : writable_ ? prefixes_ : QStringList())
        if (const QString part = prefix.section('/', 0, 2); !parts.contains(part)) parts << part;
    for (const QString& part : parts)
        for (const std::string& place : edit::other_places(document_.job(), part.toStdString()))
            if (const QString name = QString::fromStdString(place); !places.contains(name)) places << name;
    note_->setText(tr("On %1 too: changed here, it becomes a new one of Trial's own.").arg(places.join(", ")));
    note_->setVisible(!places.isEmpty());
}

FieldRow* FieldPanel::row(const QString& path) const {
    for (FieldRow* row : rows_)
        if (row->path() == path) return row;
    return nullptr;
}

void FieldPanel::focus(const QString& path) const {
    if (const FieldRow* found = row(path)) {
        found->edit()->setFocus(Qt::TabFocusReason);
        found->edit()->selectAll();
    }
}

QWidget* source_legend(Document& document) {
    auto* out = new QWidget;
    auto* line = new QHBoxLayout(out);
    line->setContentsMargins(0, 6, 0, 6);
    for (const auto& [source, word] : {std::pair{job::Source::Measured, "measured"},
                                       {job::Source::Quoted, "quoted"},
                                       {job::Source::Assumed, "assumed"}}) {
        auto* mark = new QLabel;
        mark->setPixmap(source_mark(source, theme().ink));
        auto* text = new QLabel(word);
        text->setStyleSheet("font-size: 13px");
        line->addWidget(mark);
        line->addWidget(text);
    }
    line->addStretch();
    auto* measuring = new QCheckBox(QObject::tr("measuring"));
    measuring->setObjectName("measuring");
    measuring->setStyleSheet("font-size: 13px");
    measuring->setToolTip(
        QObject::tr("What a tool reads counts as read by it once it is typed; while this is on, so does "
                    "all else (Ctrl+M). F2 in a field takes the next source."));
    line->addWidget(measuring);
    QObject::connect(measuring, &QCheckBox::clicked, out, [&document](bool on) { document.set_measuring(on); });
    QObject::connect(&document, &Document::changed, out, [measuring, &document] {
        const bool on = document.measuring();
        measuring->setChecked(on);
        measuring->setStyleSheet(
            on ? QString("font-size: 15px; font-weight: 600; padding: 3px 8px; color: %1; background: %2")
                     .arg(theme().panel.name(), theme().caution.name())
               : QString("font-size: 13px"));
    });
    return out;
}

QWidget* caution(const QString& title, const QString& text) {
    auto* out = new QWidget;
    auto* column = new QVBoxLayout(out);
    column->setContentsMargins(0, 8, 0, 4);
    column->setSpacing(3);
    QPixmap triangle(18, 16);
    triangle.fill(Qt::transparent);
    QPainter painter(&triangle);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(theme().caution, 1.8));
    painter.drawPolygon(QPolygonF{{9, 1.5}, {16.5, 14.5}, {1.5, 14.5}});
    painter.end();
    auto* head = new QHBoxLayout;
    auto* mark = new QLabel;
    mark->setPixmap(triangle);
    auto* words = new QLabel("<b>" + title + "</b>");
    words->setStyleSheet("color: " + theme().caution.name());
    head->addWidget(mark);
    head->addWidget(words, 1);
    column->addLayout(head);
    auto* body = new QLabel(text);
    body->setObjectName("caution words");
    body->setWordWrap(true);
    body->setStyleSheet("font-size: 13px");
    column->addWidget(body);
    return out;
}

} // namespace dervish::app
