#include "app/prove/test_form.h"
#include "core/edit/edits.h"
#include "core/edit/setups.h"
#include "core/proof/predict.h"

#include "app/shell/theme.h"
#include "app/widgets/follow.h"
#include "app/widgets/number_edit.h"
#include "app/words.h"
#include "core/job/fields.h"

#include <QComboBox>
#include <QDate>
#include <QFormLayout>
#include <QGuiApplication>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>

namespace dervish::app {
namespace {
const job::FieldSpec height_spec{"height", "Height", units::Quantity::Length, job::Tool::Tape, 0, 3};
const job::FieldSpec spread_spec{"spread", "Read to", units::Quantity::Length, job::Tool::Tape, 0.1e-3, 0.5};
} // namespace

TestForm::TestForm(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), tests_(new QComboBox), method_(new QComboBox), raised_(new QComboBox),
      name_(new QLineEdit), height_(new NumberEdit(document, height_spec)),
      spread_(new NumberEdit(document, spread_spec)), guess_(new NumberEdit(document, height_spec)),
      predict_(new QPushButton(tr("Predict"))), remove_(new QPushButton(tr("Remove this test"))),
      height_label_(new QLabel), error_(new QLabel), frozen_(new QLabel), removed_(new QLabel),
      table_(new QTableWidget), body_(new QWidget) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    auto* plan = new QPushButton(tr("Plan a test"));
    plan->setObjectName("plan test");
    column->addWidget(tests_);
    column->addWidget(plan);

    for (QComboBox* box : {tests_, method_, raised_}) { // as wide as there is room, not as their longest entry
        box->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
        box->setMinimumWidth(120);
    }
    auto* inner = new QVBoxLayout(body_);
    inner->setContentsMargins(0, 4, 0, 0);
    auto* form = new QFormLayout;
    form->setHorizontalSpacing(10);
    form->setVerticalSpacing(5);
    method_->addItems({tr("ramps that grow"), tr("ramps of one height")});
    raised_->addItems({tr("front left + rear right"), tr("front right + rear left")});
    name_->setObjectName("test name");
    method_->setObjectName("test method");
    height_->setObjectName("ramp height");
    spread_->setObjectName("reading spread");
    guess_->setObjectName("guess");
    remove_->setObjectName("remove test");
    predict_->setObjectName("predict");
    table_->setObjectName("readings");
    inner->addWidget(name_);
    form->addRow(tr("Ramps"), method_);
    form->addRow(tr("Raised"), raised_);
    form->addRow(height_label_, height_);
    form->addRow(tr("Read to ±"), spread_);
    form->addRow(tr("Your guess"), guess_);
    inner->addLayout(form);
    inner->addWidget(predict_);
    frozen_->setWordWrap(true);
    inner->addWidget(frozen_);
    auto* head = new QLabel(tr("<b>Readings</b>: height or gap, then travel of each wheel where measured. Write “> "
                               "450” when the ramps ended first."));
    head->setWordWrap(true);
    inner->addWidget(head);
    table_->setColumnCount(5);
    table_->setHorizontalHeaderLabels({tr("read"), tr("f. left"), tr("f. right"), tr("r. left"), tr("r. right")});
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    table_->horizontalHeader()->setMinimumSectionSize(30);
    table_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    table_->verticalHeader()->hide();
    table_->setFixedHeight(150);
    table_->setAccessibleName(tr("Readings"));
    inner->addWidget(table_);
    error_->setWordWrap(true);
    inner->addWidget(error_);
    inner->addWidget(remove_, 0, Qt::AlignLeft);
    column->addWidget(body_);
    removed_->setObjectName("test removed");
    removed_->setWordWrap(true);
    removed_->hide();
    column->addWidget(removed_);
    for (NumberEdit* line : {height_, spread_, guess_}) line->set_tells_problems(false);
    table_->setItemDelegate(new NumberDelegate(
        document_, [](int, int at) { return edit::ramp_spec(at); }, [](int at) { return at == 0; }, table_));

    connect(plan, &QPushButton::clicked, this, &TestForm::new_test);
    connect(tests_, &QComboBox::activated, this, &TestForm::show_test);
    connect(predict_, &QPushButton::clicked, this, &TestForm::predict);
    connect(remove_, &QPushButton::clicked, this, &TestForm::remove_test);
    connect(name_, &QLineEdit::textEdited, this, [this](const QString& text) {
        edit_test(tr("name of the test"), "test name", [&](job::PlannedTest& t) { t.name = text.toStdString(); });
    });
    connect(method_, &QComboBox::activated, this, [this](int i) {
        edit_test(tr("kind of ramps"), {}, [&](job::PlannedTest& t) { t.ramp.method = static_cast<job::Method>(i); });
    });
    connect(raised_, &QComboBox::activated, this, [this](int i) {
        edit_test(tr("raised wheels"), {}, [&](job::PlannedTest& t) { t.ramp.raised = static_cast<Diagonal>(i); });
    });
    type_length(height_, "ramp_height", [](job::PlannedTest& t, std::optional<double> v) {
        if (v) t.ramp.ramp_height = *v;
    });
    type_length(spread_, "reading_sigma", [](job::PlannedTest& t, std::optional<double> v) {
        if (v) t.ramp.reading_sigma = *v;
    });
    type_length(guess_, "guess", [](job::PlannedTest& t, std::optional<double> v) { t.ramp.guess = v; });
    connect(table_, &QTableWidget::cellChanged, this, &TestForm::type_cell);
    new Follow(document_, this, [this] { refresh(); });
    refresh();
}

const job::PlannedTest* TestForm::test() const {
    const auto& tests = document_.job().tests;
    return index_ >= 0 && index_ < static_cast<int>(tests.size()) ? &tests[static_cast<std::size_t>(index_)] : nullptr;
}

void TestForm::edit_test(const QString& what, const QString& merge,
                         const std::function<void(job::PlannedTest&)>& change) {
    if (!test()) return;
    document_.edit(what, merge.isEmpty() ? merge : QString("%1 %2").arg(merge).arg(index_),
                   [&](job::Job& job) { change(job.tests[static_cast<std::size_t>(index_)]); });
}

void TestForm::remove_test() {
    if (!test()) return;
    const QString name = qs(test()->name);
    const auto readings = test()->ramp.readings.size();
    document_.edit(tr("test removed"), {}, [this](job::Job& job) { edit::remove_test(job, index_); });
    show_test(std::max(0, index_ - 1));
    removed_->setText(tr("“%1” is removed, with its guess, prediction and %n reading(s). Ctrl+Z brings it all back.",
                         nullptr, static_cast<int>(readings))
                          .arg(name));
    removed_->show();
    tests_->setFocus();
}

void TestForm::type_length(NumberEdit* line, const QString& key,
                           const std::function<void(job::PlannedTest&, std::optional<double>)>& set) {
    connect(line, &QLineEdit::textEdited, this, [this, key, set, spec = line->spec()](const QString& text) {
        document_.edit(tr("entry of a test"), "type " + draft_key(key), [&](job::Job& job) {
            edit::type_of_test(job, index_, spec, key.toStdString(), set, {text.toStdString(), document_.units()});
        });
    });
    connect(line, &QLineEdit::editingFinished, this, [this, line] {
        line->setModified(false); // shown from here on as it is kept
        refresh();
    });
}

void TestForm::new_test() {
    document_.edit(tr("test planned"), {}, [](job::Job& job) {
        edit::plan_ramp_test(job, QDate::currentDate().toString(Qt::ISODate).toStdString());
    });
    show_test(static_cast<int>(document_.job().tests.size()) - 1);
    guess_->setFocus();
}

void TestForm::predict() {
    if (!test()) return;
    QGuiApplication::setOverrideCursor(Qt::WaitCursor);
    QString failed;
    try {
        job::PlannedTest planned = *test();
        planned.car = {document_.job().vehicle, document_.job().fitted}; // as it is now
        planned.ramp.prediction = proof::predict(planned);
        planned.ramp.predicted = true;
        const auto file = [](double& v) { v = units::as_filed(v, units::Quantity::Length); };
        file(planned.ramp.prediction.value);
        file(planned.ramp.prediction.sigma);
        for (job::Travels* t : {&planned.ramp.prediction.travel, &planned.ramp.prediction.travel_sigma})
            for (auto& w : t->wheel)
                if (w) file(*w);
        edit_test(tr("prediction"), {}, [&](job::PlannedTest& t) { t = planned; });
    } catch (const BadInput& e) {
        failed = qs(e.what());
    }
    QGuiApplication::restoreOverrideCursor();
    if (!failed.isEmpty()) {
        error_->setText(failed);
        error_->show();
        return;
    }
    table_->setFocus(); // the readings come next
    table_->setCurrentCell(static_cast<int>(test()->ramp.readings.size()), 0);
}

void TestForm::show_test(int index) {
    index_ = index;
    removed_->hide();
    refresh();
    emit shown(index_);
}

void TestForm::refresh() {
    const auto& tests = document_.job().tests;
    if (index_ >= static_cast<int>(tests.size())) index_ = static_cast<int>(tests.size()) - 1;
    if (index_ < 0 && !tests.empty()) index_ = 0;
    tests_->clear();
    for (const job::PlannedTest& t : tests) tests_->addItem(qs(t.name));
    tests_->setCurrentIndex(index_);
    const job::PlannedTest* t = test();
    body_->setVisible(t);
    if (!t) return;
    const auto set = [](QLineEdit* line, const QString& text) {
        if (line->text() != text && !(line->hasFocus() && line->isModified())) line->setText(text);
    };
    QString problem;
    const auto length = [&](NumberEdit* line, const QString& key, std::optional<double> value) {
        const auto waits = document_.draft(draft_key(key).toStdString(), units::Quantity::Length);
        set(line, waits ? *waits : value ? qs(job::show(*value, line->spec(), document_.units())) : QString());
        mark_bad(line, waits.has_value());
        if (!waits) return;
        try {
            edit::read_length({waits->toStdString(), document_.units()}, line->spec());
        } catch (const BadInput& e) {
            problem = qs(e.problem() + "; " + e.accepted());
        }
    };
    set(name_, qs(t->name));
    method_->setCurrentIndex(static_cast<int>(t->ramp.method));
    raised_->setCurrentIndex(static_cast<int>(t->ramp.raised));
    const QString unit = QString::fromUtf8(units::shown(units::Quantity::Length, document_.units()).symbol.data());
    height_label_->setText(
        (t->ramp.method == job::Method::Growing ? tr("They end at, %1") : tr("Their height, %1")).arg(unit));
    length(height_, "ramp_height", t->ramp.ramp_height);
    length(spread_, "reading_sigma", t->ramp.reading_sigma);
    length(guess_, "guess", t->ramp.guess);
    const bool open = t->ramp.readings.empty(); // readings freeze the plan
    for (QWidget* w : {static_cast<QWidget*>(method_), static_cast<QWidget*>(raised_), static_cast<QWidget*>(height_),
                       static_cast<QWidget*>(guess_)})
        w->setEnabled(open && !t->ramp.predicted);
    predict_->setEnabled(!t->ramp.predicted);
    predict_->setText(t->ramp.predicted ? tr("Predicted and frozen") : tr("Predict"));
    const bool same = t->car.setup == document_.job().fitted;
    frozen_->setVisible(t->ramp.predicted && !same);
    frozen_->setText(tr("Fitted has changed since: this test speaks of the setup fitted then."));
    table_->setEnabled(t->ramp.predicted);
    refresh_table();
    for (const auto& [path, draft] : document_.job().drafts)
        if (qs(path).startsWith(draft_key("readings/")) && problem.isEmpty()) {
            const bool first = path.ends_with("/0");
            try {
                edit::read_length({draft.text, draft.units}, edit::ramp_spec(first ? 0 : 1), first);
                problem = tr("Reading: the height or gap in the first column comes first.");
            } catch (const BadInput& e) {
                problem = tr("Reading: ") + qs(e.problem() + "; " + e.accepted());
            }
        }
    error_->setStyleSheet("font-size: 13px; color: " + theme().caution.name());
    error_->setText(problem);
    error_->setVisible(!problem.isEmpty());
}

void TestForm::refresh_table() {
    filling_ = true;
    const auto& readings = test()->ramp.readings;
    table_->setRowCount(static_cast<int>(readings.size()) + 1); // the last row waits for the next reading
    for (int row = 0; row < table_->rowCount(); ++row)
        for (int column = 0; column < 5; ++column) {
            const auto waits = document_.draft(edit::ramp_key(index_, row, column), units::Quantity::Length);
            const bool bad = waits.has_value();
            QString text;
            if (bad) {
                text = *waits;
            } else if (row < static_cast<int>(readings.size())) {
                const job::Reading& r = readings[static_cast<std::size_t>(row)];
                const auto travel =
                    column > 0 ? r.travel.wheel[static_cast<std::size_t>(column - 1)] : std::optional<double>(r.value);
                if (travel)
                    text = (column == 0 && r.more_than ? "> " : "") +
                           qs(job::show(*travel, edit::ramp_spec(column), document_.units()));
            }
            QTableWidgetItem* item = table_->item(row, column);
            if (!item) table_->setItem(row, column, item = new QTableWidgetItem);
            if (item->text() != text) item->setText(text);
            item->setForeground(bad ? theme().caution : theme().ink);
            item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
        }
    filling_ = false;
}

void TestForm::type_cell(int row, int column) {
    if (filling_ || !test()) return;
    const edit::Entry entry{table_->item(row, column)->text().toStdString(), document_.units()};
    document_.edit(tr("reading"), "cell " + qs(edit::ramp_key(index_, row, column)),
                   [&](job::Job& job) { edit::type_ramp_reading(job, index_, row, column, entry); });
}

} // namespace dervish::app
