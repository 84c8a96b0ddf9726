#include "app/book/shelf_page.h"

#include "app/shell/theme.h"
#include "app/widgets/page_pieces.h"
#include "core/edit/book.h"
#include "core/say/book_words.h"

#include <QFormLayout>
#include <QListWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <utility>

namespace dervish::app {

ShelfPage::ShelfPage(Document& document, StoryView& story, QWidget* parent)
    : QWidget(parent), document_(document), story_(story), list_(new QListWidget), body_(new QWidget),
      name_(named_line("part name", tr("Name of the part"))),
      origin_(named_line("part origin", tr("Where it is from"))), notes_(named_line("part notes", tr("Notes"))),
      price_(named_line("part price", tr("Price"))), mass_(named_line("part mass", tr("Mass"))),
      mark_(named_line("part mark", tr("By what it is known"))),
      sizes_(named_line("part sizes", tr("Studs and bores"))), where_(named_combo("part where", tr("Where it is"))),
      history_(named_words("part history")), error_(named_words("shelf error")) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    list_->setObjectName("things");
    list_->setAccessibleName(tr("Parts"));
    list_->setFixedHeight(168);
    list_->setTextElideMode(Qt::ElideNone);
    list_->setWordWrap(true);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    column->addWidget(list_);
    column->addWidget(body_);
    auto* form = new QFormLayout(body_);
    form->setContentsMargins(0, 0, 0, 0);
    form->setVerticalSpacing(5);
    form->addRow(tr("Name"), name_);
    form->addRow(tr("Where it is"), where_);
    form->addRow(tr("From"), origin_);
    form->addRow(tr("Price"), price_);
    form->addRow(tr("Mass"), mass_);
    form->addRow(tr("Known by"), mark_);
    form->addRow(tr("Studs, bores"), sizes_);
    form->addRow(tr("Notes"), notes_);
    mark_->setPlaceholderText(tr("colour or mark"));
    auto* look = named_words("look at it");
    look->setText(tr("<b>A used part</b>, before it goes on:"));
    form->addRow(look);
    for (int i = 0; i < job::look_count; ++i) {
        auto* box = named_combo(QString("look %1").arg(i), tr(say::look_words(i)));
        for (const QString& word : {tr("not looked at"), tr("good"), tr("bad")}) box->addItem(word);
        auto* label = named_words(QString());
        label->setText(tr(say::look_words(i)));
        form->addRow(label, box);
        looks_.push_back(box);
        connect(box, &QComboBox::activated, this, [this, i](int found) {
            change_record(tr("look at a part"), [&](job::PartRecord& r) {
                r.looked.resize(job::look_count);
                r.looked[static_cast<std::size_t>(i)] = found;
            });
        });
    }
    error_->setStyleSheet("font-size: 13px; color: " + theme().caution.name());
    error_->hide();
    column->addWidget(error_);
    column->addWidget(history_);
    connect(list_, &QListWidget::currentRowChanged, this, [this](int row) {
        if (row < 0 || row >= static_cast<int>(things_.size())) return;
        chosen_ = things_[static_cast<std::size_t>(row)].id;
        error_->hide();
        show_thing();
    });
    connect(where_, &QComboBox::activated, this, [this](int at) {
        change_record(tr("where a part is"),
                      [&](job::PartRecord& r) { r.whereabouts = static_cast<job::Whereabouts>(at); });
    });
    const std::pair<QLineEdit*, edit::PartWords> words[] = {
        {name_, edit::PartWords::Name}, {origin_, edit::PartWords::Origin}, {notes_, edit::PartWords::Notes}};
    for (const auto& [edited, which] : words)
        connect(edited, &QLineEdit::textEdited, this, [this, which = which](const QString& text) {
            document_.edit(tr("words of a part"), QString("part %1 %2").arg(static_cast<int>(which)).arg(qs(chosen_)),
                           [&](job::Job& job) { edit::set_part_words(job, chosen_, which, text.toStdString()); });
        });
    connect(mark_, &QLineEdit::editingFinished, this, [this] {
        change_record(tr("mark of a part"), [&](job::PartRecord& r) { r.mark = mark_->text().toStdString(); });
    });
    connect(sizes_, &QLineEdit::editingFinished, this, [this] {
        change_record(tr("studs and bores"), [&](job::PartRecord& r) { r.sizes = sizes_->text().toStdString(); });
    });
    connect(price_, &QLineEdit::editingFinished, this, [this] { type_number(price_, false); });
    connect(mass_, &QLineEdit::editingFinished, this, [this] { type_number(mass_, true); });
    refresh();
}

const book::Thing* ShelfPage::thing() const {
    const auto at = std::ranges::find(things_, chosen_, &book::Thing::id);
    return at == things_.end() ? nullptr : &*at;
}

void ShelfPage::change_record(const QString& what, const std::function<void(job::PartRecord&)>& change) {
    const book::Thing* t = thing();
    if (!t) return;
    job::PartRecord now = t->record;
    now.whereabouts = t->whereabouts;
    const job::PartRecord before = now;
    change(now);
    if (!(now == before)) document_.edit(what, {}, [&](job::Job& job) { edit::put_record(job, now); });
}

void ShelfPage::type_number(QLineEdit* line, bool mass) {
    const book::Thing* t = thing();
    if (!t) return;
    const job::FieldSpec spec{mass ? "mass" : "price",
                              mass ? "Mass" : "Price",
                              mass ? units::Quantity::Mass : units::Quantity::Number,
                              job::Tool::Test,
                              0,
                              mass ? 500.0 : 1e6};
    error_->hide();
    try {
        const std::string typed = line->text().trimmed().toStdString();
        const double value = typed.empty() ? 0 : job::parse(typed, spec, document_.units(), spec.key);
        if (value != (mass ? t->part.mass : t->part.price))
            document_.edit(mass ? tr("mass of a part") : tr("price of a part"), {}, [&](job::Job& job) {
                mass ? edit::set_part_mass(job, chosen_, value) : edit::set_part_price(job, chosen_, value);
            });
    } catch (const BadInput& e) { // what was typed stays in its field
        error_->setText(qs(e.problem() + "; " + e.accepted()));
        error_->show();
    }
}

void ShelfPage::refresh() {
    things_ = book::things(document_.job());
    const QSignalBlocker quiet(list_);
    list_->clear();
    for (const book::Thing& t : things_)
        list_->addItem(tr("%1: %2").arg(qs(say::words_of(t)), qs(say::standing_words(t))));
    if (!thing() && !things_.empty()) chosen_ = things_.front().id;
    for (std::size_t i = 0; i < things_.size(); ++i)
        if (things_[i].id == chosen_) list_->setCurrentRow(static_cast<int>(i));
    show_thing();
}

void ShelfPage::show_thing() {
    const book::Thing* t = thing();
    body_->setVisible(t != nullptr);
    if (!t) return;
    const bool another = std::exchange(shown_, t->id) != t->id;
    show_kept(name_, t->part.name, another);
    show_kept(origin_, t->part.origin, another);
    show_kept(notes_, t->part.notes, another);
    show_kept(mark_, t->record.mark, another);
    show_kept(sizes_, t->record.sizes, another);
    const bool wrong = error_->isVisible();
    if (!wrong) {
        show_kept(price_, t->part.price > 0 ? units::trimmed(t->part.price, 2) : std::string(), another);
        show_kept(mass_,
                  t->part.mass > 0 ? units::text(t->part.mass, units::Quantity::Mass, document_.units())
                                   : std::string(),
                  another);
    }
    Entries places;
    if (t->on_car) places.emplace_back(tr("on the car"), QVariant());
    for (int i = 0; !t->on_car && i < 5; ++i)
        places.emplace_back(qs(say::words_of(static_cast<job::Whereabouts>(i))), QVariant());
    refill(where_, places);
    where_->setEnabled(!t->on_car);
    where_->setToolTip(t->on_car ? tr("“Fit it” takes it off") : QString());
    if (!t->on_car) where_->setCurrentIndex(static_cast<int>(t->whereabouts));
    for (int i = 0; i < job::look_count; ++i) {
        const auto at = static_cast<std::size_t>(i);
        looks_[at]->setCurrentIndex(at < t->record.looked.size() ? std::clamp(t->record.looked[at], 0, 2) : 0);
    }
    QStringList lines;
    for (const int entry : book::history_of(document_.job(), t->id)) {
        const job::Entry& e = document_.job().book[static_cast<std::size_t>(entry)];
        lines << tr("%1, %2: %3").arg(qs(e.date), qs(say::words_of(e.kind)), qs(e.reason));
    }
    history_->setText(lines.isEmpty() ? tr("The book says nothing of it yet.")
                                      : tr("<b>In the book</b><br>") + lines.join("<br>"));
}

} // namespace dervish::app
