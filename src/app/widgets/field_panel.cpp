#include "app/widgets/field_panel.h"

#include "app/shell/theme.h"
#include "app/widgets/field_row.h"
#include "app/widgets/follow.h"
#include "app/widgets/source_mark.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QVBoxLayout>

namespace dervish::app {

FieldPanel::FieldPanel(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), layout_(new QVBoxLayout(this)) {
    layout_->setContentsMargins(0, 0, 0, 0);
    layout_->setSpacing(0);
    new Follow(document_, this, [this] { refresh(); });
}

void FieldPanel::show_fields(const QStringList& prefixes, bool writable) {
    prefixes_ = prefixes;
    writable_ = writable;
    refresh();
}

void FieldPanel::refresh() {
    job::Job copy = document_.job();
    std::vector<job::FieldRef> wanted;
    const std::vector<job::FieldRef> all = job::fields(copy); // once: it walks the whole job
    for (const QString& prefix : prefixes_) {
        const std::string exact = prefix.toStdString(), below = exact + "/";
        for (const job::FieldRef& f : all)
            if (f.path == exact || f.path.starts_with(below)) wanted.push_back(f);
    }
    const bool same = wanted.size() == rows_.size() &&
                      std::equal(wanted.begin(), wanted.end(), rows_.begin(),
                                 [](const job::FieldRef& f, FieldRow* r) { return r->path().toStdString() == f.path; });
    if (!same) {
        for (FieldRow* row : rows_) {
            layout_->removeWidget(row);
            row->hide();
            row->deleteLater();
        }
        rows_.clear();
        for (const job::FieldRef& f : wanted) {
            rows_.push_back(new FieldRow(document_, f, this));
            layout_->addWidget(rows_.back());
            rows_.back()->show(); // at once, so that it can take the focus
        }
    }
    for (std::size_t i = 0; i < rows_.size(); ++i) rows_[i]->refresh(wanted[i], writable_);
}

FieldRow* FieldPanel::row(const QString& path) const {
    for (FieldRow* row : rows_)
        if (row->path() == path) return row;
    return nullptr;
}

QWidget* source_legend() {
    auto* out = new QWidget;
    auto* line = new QHBoxLayout(out);
    line->setContentsMargins(0, 6, 0, 6);
    for (const auto& [source, word] : {std::pair{job::Source::Measured, "measured"},
                                       {job::Source::Quoted, "quoted"},
                                       {job::Source::Assumed, "assumed"}}) {
        auto* mark = new QLabel;
        mark->setPixmap(source_mark(source, theme().ink));
        auto* text = new QLabel(word);
        text->setStyleSheet("font-size: 12px");
        line->addWidget(mark);
        line->addWidget(text);
    }
    line->addStretch();
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
    body->setWordWrap(true);
    body->setStyleSheet("font-size: 12px");
    column->addWidget(body);
    return out;
}

} // namespace dervish::app
