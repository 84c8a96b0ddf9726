#include "app/prove/test_form.h"

#include "app/shell/theme.h"
#include "app/widgets/follow.h"
#include "core/job/fields.h"

#include <QComboBox>
#include <QDate>
#include <QFormLayout>
#include <QGuiApplication>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QStyle>
#include <QTableWidget>
#include <QVBoxLayout>
#include <cmath>

namespace dervish::app {
namespace {
QString qs(const std::string& s) { return QString::fromStdString(s); }

const job::FieldSpec height_spec{"height", "Height", units::Quantity::Length, job::Tool::Tape, 0, 3, "", nullptr, 0};
const job::FieldSpec travel_spec{"travel", "Travel", units::Quantity::Length, job::Tool::Tape, -1, 1, "", nullptr, 0};

void mark(QLineEdit* line, bool bad) {
    line->setProperty("bad", bad);
    line->style()->unpolish(line);
    line->style()->polish(line);
}
} // namespace

TypedLength read_length(const QString& text, units::System system, bool may_be_more) {
    QString rest = text.trimmed();
    TypedLength out;
    if (rest.isEmpty()) return out;
    if (may_be_more && rest.startsWith('>')) {
        out.more_than = true;
        rest.remove(0, 1);
    }
    out.value = job::parse(rest.toStdString(), may_be_more ? height_spec : travel_spec, system, "reading");
    return out;
}

TestForm::TestForm(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), tests_(new QComboBox), method_(new QComboBox), raised_(new QComboBox),
      name_(new QLineEdit), height_(new QLineEdit), spread_(new QLineEdit), guess_(new QLineEdit),
      predict_(new QPushButton(tr("Predict"))), remove_(new QPushButton(tr("Remove this test"))),
      height_label_(new QLabel), error_(new QLabel), frozen_(new QLabel), table_(new QTableWidget), body_(new QWidget) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    auto* top = new QHBoxLayout;
    auto* plan = new QPushButton(tr("Plan a test"));
    plan->setObjectName("plan test");
    top->addWidget(tests_, 1);
    top->addWidget(plan);
    column->addLayout(top);

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
    predict_->setObjectName("predict");
    table_->setObjectName("readings");
    form->addRow(tr("Name"), name_);
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

    connect(plan, &QPushButton::clicked, this, &TestForm::new_test);
    connect(tests_, &QComboBox::activated, this, &TestForm::show_test);
    connect(predict_, &QPushButton::clicked, this, &TestForm::predict);
    connect(remove_, &QPushButton::clicked, this, [this] {
        document_.edit(tr("test removed"), {}, [this](job::Job& job) {
            job.tests.erase(job.tests.begin() + index_);
            std::erase_if(job.drafts, [](const auto& d) { return d.first.starts_with("tests/"); });
        });
        show_test(std::max(0, index_ - 1));
    });
    connect(name_, &QLineEdit::textEdited, this, [this](const QString& text) {
        edit_test(tr("name of the test"), "test name", [&](job::PlannedTest& t) { t.name = text.toStdString(); });
    });
    connect(method_, &QComboBox::activated, this, [this](int i) {
        edit_test(tr("kind of ramps"), {}, [&](job::PlannedTest& t) { t.ramp.method = static_cast<proof::Method>(i); });
    });
    connect(raised_, &QComboBox::activated, this, [this](int i) {
        edit_test(tr("raised wheels"), {},
                  [&](job::PlannedTest& t) { t.ramp.raised = static_cast<flex::Diagonal>(i); });
    });
    type_length(height_, "ramp_height", [](job::PlannedTest& t, std::optional<double> v) {
        if (v) t.ramp.ramp_height = *v;
    });
    type_length(spread_, "reading_sigma", [](job::PlannedTest& t, std::optional<double> v) {
        if (v) t.ramp.reading_sigma = std::max(*v, 1e-4);
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

void TestForm::type_length(QLineEdit* line, const QString& key,
                           const std::function<void(job::PlannedTest&, std::optional<double>)>& set) {
    connect(line, &QLineEdit::textEdited, this, [this, key, set](const QString& text) {
        document_.edit(tr("entry of a test"), "type " + draft_key(key), [&](job::Job& job) {
            const std::string draft = draft_key(key).toStdString();
            try {
                set(job.tests[static_cast<std::size_t>(index_)], read_length(text, document_.units(), true).value);
                job.drafts.erase(draft);
            } catch (const BadInput&) {
                job.drafts[draft] = text.toStdString();
            }
        });
    });
}

void TestForm::new_test() {
    document_.edit(tr("test planned"), {}, [](job::Job& job) {
        job::PlannedTest t;
        t.name = "Diagonal ramps " + std::to_string(job.tests.size() + 1);
        t.date = QDate::currentDate().toString(Qt::ISODate).toStdString();
        t.as_fitted = job.fitted;
        for (const job::Load& l : job.vehicle.loads)
            if (l.aboard) t.aboard.push_back(l.name);
        job.tests.push_back(t);
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
        planned.as_fitted = document_.job().fitted; // as it is on the car now
        planned.aboard.clear();
        for (const job::Load& l : document_.job().vehicle.loads)
            if (l.aboard) planned.aboard.push_back(l.name);
        planned.ramp.prediction = job::predict(document_.job().vehicle, planned);
        planned.ramp.predicted = true;
        const auto file = [](double& v) { v = units::as_filed(v, units::Quantity::Length); };
        file(planned.ramp.prediction.value);
        file(planned.ramp.prediction.sigma);
        for (proof::Travels* t : {&planned.ramp.prediction.travel, &planned.ramp.prediction.travel_sigma})
            for (auto& w : t->wheel)
                if (w) file(*w);
        edit_test(tr("prediction"), {}, [&](job::PlannedTest& t) { t = planned; });
    } catch (const BadInput& e) {
        failed = qs(e.what());
    }
    QGuiApplication::restoreOverrideCursor();
    if (!failed.isEmpty()) error_->setText(failed);
}

void TestForm::show_test(int index) {
    index_ = index;
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
        if (line->text() != text &&
            !(line->hasFocus() && line->text().toDouble() == text.toDouble() && !line->text().isEmpty()))
            line->setText(text);
    };
    QString problem;
    const auto length = [&](QLineEdit* line, const QString& key, std::optional<double> value) {
        const auto draft = document_.job().drafts.find(draft_key(key).toStdString());
        const bool bad = draft != document_.job().drafts.end();
        set(line, bad ? qs(draft->second) : value ? qs(job::show(*value, height_spec, document_.units())) : QString());
        mark(line, bad);
        if (!bad) return;
        try {
            read_length(qs(draft->second), document_.units(), true);
        } catch (const BadInput& e) {
            problem = qs(e.problem() + "; " + e.accepted());
        }
    };
    set(name_, qs(t->name));
    method_->setCurrentIndex(static_cast<int>(t->ramp.method));
    raised_->setCurrentIndex(static_cast<int>(t->ramp.raised));
    const QString unit = QString::fromUtf8(units::shown(units::Quantity::Length, document_.units()).symbol.data());
    height_label_->setText(
        (t->ramp.method == proof::Method::Growing ? tr("They end at, %1") : tr("Their height, %1")).arg(unit));
    length(height_, "ramp_height", t->ramp.ramp_height);
    length(spread_, "reading_sigma", t->ramp.reading_sigma);
    length(guess_, "guess", t->ramp.guess);
    const bool open = t->ramp.readings.empty(); // readings freeze the plan
    for (QWidget* w : {static_cast<QWidget*>(method_), static_cast<QWidget*>(raised_), static_cast<QWidget*>(height_),
                       static_cast<QWidget*>(guess_)})
        w->setEnabled(open && !t->ramp.predicted);
    predict_->setEnabled(!t->ramp.predicted);
    predict_->setText(t->ramp.predicted ? tr("Predicted and frozen") : tr("Predict"));
    const bool same = t->as_fitted == document_.job().fitted;
    frozen_->setVisible(t->ramp.predicted && !same);
    frozen_->setText(tr("Fitted has changed since: this test speaks of the setup fitted then."));
    table_->setEnabled(t->ramp.predicted);
    refresh_table();
    for (const auto& [path, text] : document_.job().drafts)
        if (qs(path).startsWith(draft_key("readings/")) && problem.isEmpty()) {
            try {
                read_length(qs(text), document_.units(), path.ends_with("/0"));
            } catch (const BadInput& e) {
                problem = tr("Reading: ") + qs(e.problem() + "; " + e.accepted());
            }
        }
    error_->setStyleSheet("font-size: 12px; color: " + theme().caution.name());
    error_->setText(problem);
    error_->setVisible(!problem.isEmpty());
}

void TestForm::refresh_table() {
    filling_ = true;
    const auto& readings = test()->ramp.readings;
    table_->setRowCount(static_cast<int>(readings.size()) + 1); // the last row waits for the next reading
    for (int row = 0; row < table_->rowCount(); ++row)
        for (int column = 0; column < 5; ++column) {
            const auto draft =
                document_.job().drafts.find(draft_key(QString("readings/%1/%2").arg(row).arg(column)).toStdString());
            const bool bad = draft != document_.job().drafts.end();
            QString text;
            if (bad) {
                text = qs(draft->second);
            } else if (row < static_cast<int>(readings.size())) {
                const proof::Reading& r = readings[static_cast<std::size_t>(row)];
                const auto travel =
                    column > 0 ? r.travel.wheel[static_cast<std::size_t>(column - 1)] : std::optional<double>(r.value);
                if (travel)
                    text = (column == 0 && r.more_than ? "> " : "") +
                           qs(job::show(*travel, travel_spec, document_.units()));
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
    const QString text = table_->item(row, column)->text();
    document_.edit(tr("reading"), {}, [&](job::Job& job) {
        auto& readings = job.tests[static_cast<std::size_t>(index_)].ramp.readings;
        const auto at = static_cast<std::size_t>(row);
        const std::string draft = draft_key(QString("readings/%1/%2").arg(row).arg(column)).toStdString();
        try {
            const TypedLength typed = read_length(text, document_.units(), column == 0);
            job.drafts.erase(draft);
            if (column == 0 && !typed.value) { // an emptied reading goes
                if (at < readings.size()) readings.erase(readings.begin() + row);
                return;
            }
            if (at >= readings.size()) {
                if (!typed.value) return;
                if (column > 0)
                    throw BadInput("reading", "a travel without a height or gap",
                                   "type what was read in the first column first");
                readings.push_back({});
            }
            proof::Reading& r = readings[at];
            if (column == 0) {
                r.value = *typed.value;
                r.more_than = typed.more_than;
            } else {
                r.travel.wheel[static_cast<std::size_t>(column - 1)] = typed.value;
            }
        } catch (const BadInput&) {
            job.drafts[draft] = text.toStdString();
        }
    });
}

} // namespace dervish::app
