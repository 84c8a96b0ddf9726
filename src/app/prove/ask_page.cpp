#include "app/prove/ask_page.h"

#include "app/prove/run_chart.h"
#include "app/prove/test_sheet.h"
#include "app/shell/theme.h"
#include "app/widgets/entry_row.h"
#include "app/widgets/number_edit.h"
#include "app/widgets/page_pieces.h"
#include "app/words.h"
#include "core/edit/tests.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDateTime>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>
#include <utility>

namespace dervish::app {

AskPage::AskPage(Document& document, TestSums& sums, QWidget* parent)
    : QWidget(parent), document_(document), sums_(sums), name_(named_line("test name", tr("Name of the test"))),
      question_(named_line("test question", tr("The question in your words"))),
      asks_(named_combo("test asks", tr("Kind of question"))),
      unknown_(named_combo("test unknown", tr("What is not known"))),
      protocol_(named_combo("test protocol", tr("Kind of test"))),
      add_(named_combo("state offered", tr("Setup to add"))), states_(named_words("test states")),
      order_(named_words("test order")), how_(named_words("test how")),
      add_state_(named_button(tr("Add"), "add state")),
      remove_state_(named_button(tr("Remove the last"), "remove state")),
      more_(named_button(tr("More runs"), "more runs")), fewer_(named_button(tr("Fewer"), "fewer runs")),
      lot_(named_button(tr("Draw by lot"), "draw by lot")), better_(named_button({}, "plan better")),
      others_(named_button({}, "other kinds")), blind_(new QCheckBox(tr("Hide what answers it until predicted"))),
      settings_(new QWidget) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    build_question(column);
    build_states(column);
    new QVBoxLayout(settings_);
    settings_->layout()->setContentsMargins(0, 0, 0, 0);
    settings_->layout()->setSpacing(0);
    column->addWidget(settings_);
    build_order(column);
    auto* buttons = new QHBoxLayout;
    auto* sheet = named_button(tr("Test sheet …"), "test sheet");
    auto* remove = named_button(tr("Remove this test"), "remove test");
    buttons->addWidget(sheet);
    buttons->addWidget(remove);
    column->addWidget(better_);
    column->addWidget(others_);
    column->addLayout(buttons);
    column->addWidget(how_);
    connect(better_, &QPushButton::clicked, this, &AskPage::plan_better);
    connect(others_, &QPushButton::clicked, this, [this] {
        if (sums_.asking_others())
            sums_.stop_others();
        else
            sums_.go_on_with_others();
        refresh();
    });
    connect(sheet, &QPushButton::clicked, this, &AskPage::print_sheet);
    connect(remove, &QPushButton::clicked, this, &AskPage::remove_asked);
    name_->setPlaceholderText(tr("Name of the test"));
    question_->setPlaceholderText(tr("The question in your words"));
    refresh();
}

void AskPage::edit(const QString& what, const QString& merge, const std::function<void(job::Job&, int)>& change) {
    const int at = sums_.index();
    if (sums_.test())
        document_.edit(what, merge.isEmpty() ? merge : QString("%1 %2").arg(merge).arg(at),
                       [&](job::Job& job) { change(job, at); });
}

void AskPage::build_question(QVBoxLayout* column) {
    for (int i = 0; i < 4; ++i) asks_->addItem(qs(say::words_of(static_cast<job::Asks>(i))));
    for (const proof::Protocol& p : proof::protocols()) {
        const bool first =
            protocol_->count() == 0 ||
            proof::protocol(protocol_->itemData(protocol_->count() - 1).toString().toStdString()).sort != p.sort;
        if (first && protocol_->count() > 0) protocol_->insertSeparator(protocol_->count());
        protocol_->addItem(tr(p.name), QString(p.key));
        protocol_->setItemData(protocol_->count() - 1, tr(p.tells), Qt::ToolTipRole);
    }
    for (QWidget* w : {static_cast<QWidget*>(name_), static_cast<QWidget*>(asks_), static_cast<QWidget*>(unknown_),
                       static_cast<QWidget*>(question_), static_cast<QWidget*>(protocol_)})
        column->addWidget(w);
    connect(name_, &QLineEdit::textEdited, this, [this](const QString& text) {
        edit(tr("name of the test"), "test name",
             [&](job::Job& job, int at) { edit::name_test(job, at, text.toStdString()); });
    });
    const auto ask = [this] {
        edit(tr("question of the test"), "test question", [&](job::Job& job, int at) {
            edit::set_question(job, at, static_cast<job::Asks>(asks_->currentIndex()), question_->text().toStdString());
        });
    };
    connect(question_, &QLineEdit::textEdited, this, ask);
    connect(asks_, &QComboBox::activated, this, ask);
    connect(unknown_, &QComboBox::activated, this, [this](int i) {
        edit(tr("what is not known"), {}, [&](job::Job& job, int at) {
            edit::set_unknown(job, at, unknown_->itemData(i).toString().toStdString());
        });
    });
    connect(protocol_, &QComboBox::activated, this, [this](int i) {
        edit(tr("kind of test"), {}, [&](job::Job& job, int at) {
            edit::set_protocol(job, at, protocol_->itemData(i).toString().toStdString());
        });
    });
}

std::vector<job::Setup> AskPage::offered() const {
    const job::Job& job = document_.job();
    std::vector<job::Setup> out;
    const auto add = [&](job::Setup setup, const QString& name) {
        setup.name = name.toStdString();
        out.push_back(std::move(setup));
    };
    add(job.fitted, tr("Fitted: %1").arg(qs(job.fitted.name)));
    add(job.trial, tr("Trial: %1").arg(qs(job.trial.name)));
    const auto off = [&](bool front, bool rear, const QString& name) {
        job::Setup s = job.fitted;
        if ((front && !(s.front.fitted && s.front.connected)) || (rear && !(s.rear.fitted && s.rear.connected))) return;
        if (front) s.front.connected = false;
        if (rear) s.rear.connected = false;
        add(s, name);
    };
    off(true, false, tr("front bar off"));
    off(false, true, tr("rear bar off"));
    off(true, true, tr("both bars off"));
    for (const job::Setup& s : job.kept) add(s, qs(s.name));
    return out;
}

void AskPage::build_states(QVBoxLayout* column) {
    column->addWidget(new QLabel(tr("<b>Setups to run</b>")));
    column->addWidget(states_);
    auto* row = new QHBoxLayout;
    row->addWidget(add_, 1);
    row->addWidget(add_state_);
    column->addLayout(row);
    column->addWidget(remove_state_, 0, Qt::AlignLeft);
    connect(add_state_, &QPushButton::clicked, this, [this] {
        const auto all = offered();
        const auto which = static_cast<std::size_t>(add_->currentIndex());
        if (which < all.size())
            edit(tr("a setup more to run"), {}, [&](job::Job& job, int at) { edit::add_state(job, at, all[which]); });
    });
    connect(remove_state_, &QPushButton::clicked, this, [this] {
        edit(tr("a setup fewer to run"), {}, [&](job::Job& job, int at) {
            edit::remove_state(job, at, static_cast<int>(job.tests[static_cast<std::size_t>(at)].states.size()) - 1);
        });
    });
}

void AskPage::build_order(QVBoxLayout* column) {
    column->addWidget(order_);
    auto* row = new QHBoxLayout;
    row->setSpacing(4);
    for (QPushButton* b : {more_, fewer_, lot_}) {
        b->setStyleSheet("padding-left: 6px; padding-right: 6px;");
        row->addWidget(b);
    }
    column->addLayout(row);
    blind_->setObjectName("blind");
    column->addWidget(blind_);
    const auto rounds = [this](int by) {
        edit(tr("number of runs"), {}, [by](job::Job& job, int at) {
            const job::PlannedTest& t = job.tests[static_cast<std::size_t>(at)];
            const int states = static_cast<int>(t.states.size()), now = static_cast<int>(t.order.size()) / states;
            if (now + by >= 1) edit::set_order(job, at, edit::with_and_without(t.states.size(), now + by), false);
        });
    };
    connect(more_, &QPushButton::clicked, this, [rounds] { rounds(1); });
    connect(fewer_, &QPushButton::clicked, this, [rounds] { rounds(-1); });
    connect(lot_, &QPushButton::clicked, this, [this] {
        edit(tr("order drawn by lot"), {}, [](job::Job& job, int at) {
            edit::set_order(job, at,
                            edit::drawn_by_lot(job.tests[static_cast<std::size_t>(at)].order,
                                               static_cast<unsigned>(QDateTime::currentMSecsSinceEpoch())),
                            true);
        });
    });
    connect(blind_, &QCheckBox::clicked, this,
            [this](bool on) { edit(tr("hiding"), {}, [on](job::Job& job, int at) { edit::set_blind(job, at, on); }); });
}

void AskPage::build_rows() {
    const job::PlannedTest* t = sums_.test();
    const proof::Protocol* p = sums_.protocol();
    const QString of = t && p ? QString("%1 %2").arg(sums_.index()).arg(p->key) : QString();
    if (of == built_) return;
    built_ = of;
    rows_.clear();
    choices_.clear();
    while (QLayoutItem* item = settings_->layout()->takeAt(0)) {
        delete item->widget();
        delete item;
    }
    if (of.isEmpty()) return;
    const int at = sums_.index();
    for (const proof::Setting& s : p->settings) {
        const std::string key = s.spec.key;
        if (!s.words.empty()) {
            auto* row = new QWidget;
            auto* across = new QHBoxLayout(row);
            across->setContentsMargins(0, 1, 0, 1);
            auto* box = named_combo("setting " + qs(key), tr(s.spec.label));
            for (const char* word : s.words) box->addItem(tr(word));
            across->addWidget(new QLabel(tr(s.spec.label)), 1);
            across->addWidget(box, 2);
            settings_->layout()->addWidget(row);
            row->show();
            choices_.emplace_back(key, box);
            connect(box, &QComboBox::activated, this, [this, key](int chosen) {
                edit(tr("setting of the test"), {},
                     [&](job::Job& job, int test) { edit::set_setting(job, test, key, chosen); });
            });
            continue;
        }
        auto* row = new EntryRow(
            document_, tr(s.spec.label), "setting " + qs(key),
            {s.spec, edit::setting_key(at, key),
             [this, p, key, spec = s.spec](const job::Job&) {
                 return sums_.test()
                            ? qs(job::show(proof::settings_of(*p, *sums_.test()).at(key), spec, document_.units()))
                            : QString();
             },
             [at, spec = s.spec](job::Job& job, const edit::Entry& e) { edit::type_setting(job, at, spec, e); }});
        settings_->layout()->addWidget(row);
        row->show();
        rows_.push_back(row);
    }
    if (!p->channels.empty()) {
        job::FieldSpec spread = p->channels[0].spec;
        spread.lowest = 1e-9;
        auto* row = new EntryRow(
            document_, tr("One reading is good to ±"), "read to",
            {spread, edit::read_to_key(at, spread.key),
             [this, p, spread](const job::Job&) {
                 const job::PlannedTest* test = sums_.test();
                 const double about = test && test->predicted() ? test->states[0].prediction.value[0] : 0;
                 return test ? qs(job::show(proof::read_to(*test, p->channels[0], about), spread, document_.units()))
                             : QString();
             },
             [at, spec = p->channels[0].spec](job::Job& job, const edit::Entry& e) {
                 edit::type_read_to(job, at, spec, e);
             }});
        settings_->layout()->addWidget(row);
        row->show();
        rows_.push_back(row);
    }
}

void AskPage::refresh() {
    const job::PlannedTest* t = sums_.test();
    const bool another = std::exchange(of_, sums_.index()) != sums_.index();
    build_rows();
    if (!t || !sums_.protocol()) return;
    const bool open = !t->predicted() && t->runs.empty();
    show_kept(name_, t->name, another);
    show_kept(question_, t->question, another);
    asks_->setCurrentIndex(static_cast<int>(t->asks));
    unknown_->setVisible(t->asks == job::Asks::Unknown);
    if (t->asks == job::Asks::Unknown) {
        Entries all{{tr("choose what is not known"), QString()}};
        for (const proof::Unknown& u : proof::unknowns(t->states[0].car.vehicle, t->states[0].car.setup))
            all.emplace_back(qs(u.label), qs(u.path));
        refill(unknown_, all);
        unknown_->setCurrentIndex(std::max(0, unknown_->findData(qs(t->unknown))));
    }
    protocol_->setCurrentIndex(protocol_->findData(qs(t->protocol)));
    protocol_->setEnabled(open);
    QStringList states;
    for (std::size_t s = 0; s < t->states.size(); ++s) {
        QStringList aboard;
        for (const job::Load& l : t->states[s].car.vehicle.loads)
            if (job::is_aboard(l, t->states[s].car.setup)) aboard << qs(l.name);
        states << tr("%1  %2; aboard: %3")
                      .arg(letter_of(static_cast<int>(s)), qs(t->states[s].name),
                           aboard.isEmpty() ? tr("nothing") : aboard.join(", "));
    }
    states_->setText(states.join("\n"));
    const auto all = offered();
    // The one chosen before, else the first that is not among those to run.
    int chosen = add_->findText(add_->currentText()) >= 0 && add_->count() > 0 ? add_->currentIndex() : -1;
    const auto runs = [&](job::Setup offer) {
        return std::ranges::any_of(t->states, [&](const job::TestState& state) {
            offer.name = state.car.setup.name;
            return offer == state.car.setup;
        });
    };
    if (chosen < 0 || chosen >= static_cast<int>(all.size()) || runs(all[static_cast<std::size_t>(chosen)]))
        chosen = static_cast<int>(std::ranges::find_if_not(all, runs) - all.begin());
    Entries setups;
    for (const job::Setup& s : all) setups.emplace_back(qs(s.name), QVariant());
    refill(add_, setups);
    add_->setCurrentIndex(std::min(chosen, static_cast<int>(all.size()) - 1));
    for (QWidget* w : {static_cast<QWidget*>(add_), static_cast<QWidget*>(add_state_)})
        w->setEnabled(open && t->states.size() < 8);
    remove_state_->setEnabled(open && t->states.size() > 1);
    for (QPushButton* b : {more_, fewer_, lot_}) b->setEnabled(t->runs.empty());
    lot_->setEnabled(t->runs.empty() && t->states.size() > 1);
    QString order;
    for (const int s : t->order) order += letter_of(s) + " ";
    order_->setText(tr("<b>Runs</b>: %1")
                        .arg(t->shuffled ? tr("%n, drawn by lot", nullptr, static_cast<int>(t->order.size())) : order));
    blind_->setChecked(t->blind);
    blind_->setEnabled(!t->predicted());
    for (const auto& [key, box] : choices_) {
        box->setCurrentIndex(static_cast<int>(proof::settings_of(*sums_.protocol(), *t).at(key)));
        box->setEnabled(open);
    }
    for (EntryRow* row : rows_) {
        row->refresh();
        row->line()->setEnabled(open || row->line()->objectName() == "read to");
    }
    const TestSums::Other* better = sums_.better();
    better_->setVisible(better != nullptr);
    if (better) better_->setText(tr("Tells more: %1").arg(tr(better->protocol->name)));
    const auto answered = sums_.others_answered();
    others_->setVisible(answered && !answered->all());
    if (answered)
        others_->setText(
            (sums_.asking_others() ? tr("Other kinds: %1 of %2, stop") : tr("Other kinds: %1 of %2, go on"))
                .arg(answered->count)
                .arg(answered->of));
    QString how = tr("<b>Needed</b>: ");
    for (const char* need : sums_.protocol()->needs) how += tr(need) + "; ";
    how += "<ol style='margin-left: 0'>";
    for (const char* step : sums_.protocol()->steps) how += "<li>" + tr(step) + "</li>";
    how_->setText(how + "</ol>" + tr("<b>It ends</b>: ") + tr(sums_.protocol()->ends));
}

void AskPage::plan_better() {
    if (!sums_.test() || !sums_.better()) return;
    const proof::Protocol& best = *sums_.better()->protocol;
    const job::PlannedTest of = *sums_.test();
    if (!of.predicted() && of.runs.empty() && of.guesses.empty()) { // nothing of it is lost
        edit(tr("kind of test"), {}, [&](job::Job& job, int at) { edit::set_protocol(job, at, best.key); });
        return;
    }
    edit::TestPlan plan{tr("%1, %2").arg(qs(of.name), tr(best.name).toLower()).toStdString(),
                        QDate::currentDate().toString(Qt::ISODate).toStdString(),
                        of.question,
                        best.key,
                        of.asks,
                        {}};
    for (const job::TestState& state : of.states) {
        plan.setups.push_back(state.car.setup);
        plan.setups.back().name = state.name;
    }
    document_.edit(tr("test planned"), {}, [&](job::Job& job) {
        edit::plan_test(job, plan);
        const int at = static_cast<int>(job.tests.size()) - 1;
        edit::set_order(job, at, of.order, of.shuffled);
        edit::set_unknown(job, at, of.unknown);
    });
    emit test_planned();
}

void AskPage::print_sheet() {
    if (sums_.test() && sums_.protocol()) print_test_sheet(this, document_.job(), *sums_.test(), document_.units());
}

} // namespace dervish::app
