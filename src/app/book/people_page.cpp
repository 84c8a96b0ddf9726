#include "app/book/people_page.h"

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
namespace {
const job::FieldSpec weight{"mass", "Weight", units::Quantity::Mass, job::Tool::Test, 1, 300};
}

PeoplePage::PeoplePage(Document& document, StoryView& story, QWidget* parent)
    : QWidget(parent), document_(document), story_(story), list_(new QListWidget),
      name_(named_line("person name", tr("Name"))), mass_(named_line("person mass", tr("Weight"))),
      accepts_(named_line("person accepts", tr("What they accept"))),
      load_(named_combo("person load", tr("Load that they are"))), error_(named_words("people error")),
      said_(named_words("person said")) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    auto* why = named_words("people why");
    why->setText(tr("Everybody who is named in the book or in a test stands here. The load that a person is in the car "
                    "weighs what they do."));
    column->addWidget(why);
    list_->setObjectName("people");
    list_->setAccessibleName(tr("People"));
    list_->setFixedHeight(150);
    column->addWidget(list_);
    auto* form = new QFormLayout;
    form->setVerticalSpacing(5);
    form->addRow(tr("Name"), name_);
    form->addRow(tr("Weight"), mass_);
    form->addRow(tr("Is the load"), load_);
    form->addRow(tr("Accepts"), accepts_);
    accepts_->setPlaceholderText(tr("in their words"));
    column->addLayout(form);
    auto* row = new QHBoxLayout;
    auto* keep = named_button(tr("Keep"), "keep person");
    auto* off = named_button(tr("Remove"), "remove person");
    auto* only = named_button(tr("Show only theirs"), "only theirs");
    for (QPushButton* b : {keep, off, only}) {
        b->setStyleSheet("padding-left: 8px; padding-right: 8px;");
        row->addWidget(b);
    }
    column->addLayout(row);
    error_->setStyleSheet("font-size: 13px; color: " + theme().caution.name());
    error_->hide();
    column->addWidget(error_);
    column->addWidget(said_);
    connect(keep, &QPushButton::clicked, this, &PeoplePage::put);
    connect(off, &QPushButton::clicked, this, [this] {
        document_.edit(tr("person removed"), {},
                       [&](job::Job& job) { edit::remove_person(job, name_->text().trimmed().toStdString()); });
    });
    connect(only, &QPushButton::clicked, this, [this] {
        book::Wanted wanted = story_.wanted();
        wanted.person = name_->text().trimmed().toStdString();
        story_.set_wanted(wanted);
    });
    connect(list_, &QListWidget::currentRowChanged, this, &PeoplePage::show_chosen);
    refresh();
}

void PeoplePage::put() {
    error_->hide();
    try {
        job::Person person; // a weight that is not typed is not said
        person.name = name_->text().trimmed().toStdString();
        const std::string typed = mass_->text().trimmed().toStdString();
        if (!typed.empty())
            person.mass = units::as_filed(job::parse(typed, weight, document_.units(), "mass"), units::Quantity::Mass);
        person.load = load_->currentData().toString().toStdString();
        person.accepts = accepts_->text().trimmed().toStdString();
        document_.edit(tr("person"), {}, [&](job::Job& job) { edit::put_person(job, person); });
    } catch (const BadInput& e) {
        error_->setText(qs(e.problem() + "; " + e.accepted()));
        error_->show();
    }
}

void PeoplePage::refresh() {
    const QString chosen = list_->currentItem() ? list_->currentItem()->text() : QString();
    const std::vector<std::string> all = book::people_of(document_.job());
    {
        const QSignalBlocker quiet(list_);
        list_->clear();
        for (const std::string& name : all) list_->addItem(qs(name));
        const auto found = list_->findItems(chosen, Qt::MatchExactly);
        if (!found.isEmpty()) list_->setCurrentItem(found.front());
    }
    Entries loads{{tr("none"), QString()}};
    for (const job::Load& l : document_.job().vehicle.loads) loads.emplace_back(qs(l.name), qs(l.id));
    refill(load_, loads, load_->currentData().toString());
    if (list_->currentItem()) show_chosen();
}

void PeoplePage::show_chosen() {
    if (!list_->currentItem()) return;
    const std::string name = list_->currentItem()->text().toStdString();
    const bool another = std::exchange(shown_, name) != name;
    const auto& people = document_.job().people;
    const auto known = std::ranges::find(people, name, &job::Person::name);
    show_kept(name_, name, another);
    const bool weighed = known != people.end() && known->mass > 0;
    show_kept(mass_, weighed ? units::text(known->mass, units::Quantity::Mass, document_.units()) : std::string(),
              another);
    show_kept(accepts_, known == people.end() ? std::string() : known->accepts, another);
    if (another) load_->setCurrentIndex(known == people.end() ? 0 : std::max(0, load_->findData(qs(known->load))));
    std::size_t times = 0;
    for (const book::Moment& m : story_.moments()) times += book::is_wanted(document_.job(), m, {"", "", name});
    said_->setText(tr("Named in %n entries and tests.", nullptr, static_cast<int>(times)));
}

} // namespace dervish::app
