#include "app/shell/main_window.h"

#include "app/failure.h"
#include "core/study/assess.h"

#include "app/balance/balance_station.h"
#include "app/book/book_station.h"
#include "app/car/car_station.h"
#include "app/links/links_station.h"
#include "app/paint/pen.h"
#include "app/prove/prove_station.h"
#include "app/shell/cards.h"
#include "app/shell/differs_card.h"
#include "app/shell/draws_card.h"
#include "app/shell/find_box.h"
#include "app/shell/hidden_page.h"
#include "app/shell/new_car_card.h"
#include "app/shell/stations.h"
#include "app/shell/tally.h"
#include "app/shell/theme.h"
#include "app/shell/top_bar.h"
#include "app/widgets/field_panel.h"
#include "app/widgets/number_edit.h"

#include <QAbstractSpinBox>
#include <QAction>
#include <QApplication>
#include <QButtonGroup>
#include <QCloseEvent>
#include <QComboBox>
#include <QDialog>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QLockFile>
#include <QMenu>
#include <QMessageBox>
#include <QPainter>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QRegularExpression>
#include <QSettings>
#include <QStackedWidget>
#include <QTableWidget>
#include <QTimer>
#include <QToolButton>
#include <QVBoxLayout>

namespace dervish::app {
namespace {
/// Whether the focus takes letters as text.
bool takes_text(QWidget* w) {
    return qobject_cast<QLineEdit*>(w) || qobject_cast<QPlainTextEdit*>(w) || qobject_cast<QTextEdit*>(w) ||
           qobject_cast<QAbstractItemView*>(w) || qobject_cast<QComboBox*>(w) || qobject_cast<QAbstractSpinBox*>(w);
}
} // namespace

QString demo_path() { return QStringLiteral(DERVISH_DEMO); }

MainWindow::MainWindow(QWidget* parent)
    : QMainWindow(parent), recovery_(new Recovery(document_, data_folder() + "/unsaved", this)) {
    connect(&document_, &Document::changed, this, &MainWindow::update_title);
    connect(&document_, &Document::changed, this, &MainWindow::hide_answers);
    connect(&document_.undo(), &QUndoStack::cleanChanged, this, &MainWindow::update_title);
    night_ = QSettings().value("night", false).toBool();
    setMinimumSize(1024, 700);
    resize(1280, 800);
    setStyleSheet(
        theme_style()); // the window's and not the program's: what is being built has none until it stands in it
    build_actions();
    build();
    show_station("Bar");
    qApp->installEventFilter(this);
    update_title();
}

MainWindow::~MainWindow() {
    on_failure({});
    on_refusal({});
    delete recovery_;           // what is not saved stays for the next session
    delete takeCentralWidget(); // before the document that its widgets speak to
}

void MainWindow::build() {
    delete rail_;
    auto* whole = new QWidget;
    auto* column = new QVBoxLayout(whole);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(new TopBar(document_, job_menu_));
    auto* line = new QHBoxLayout;
    line->setSpacing(0);
    auto* rail = new QWidget;
    rail->setObjectName("panel");
    rail->setFixedWidth(84);
    rail_ = new QButtonGroup(this);
    stack_ = new QStackedWidget;
    stations_.assign(station_kinds().size(), nullptr); // made when they are first asked for
    hidden_ = new HiddenPage(document_);
    stack_->addWidget(hidden_);
    connect(hidden_, &HiddenPage::prove_wanted, this, [this] { show_station("Prove"); });
    auto* buttons = new QVBoxLayout(rail);
    build_rail(buttons);
    line->addWidget(rail);
    line->addWidget(stack_, 1);
    column->addLayout(line, 1);
    tally_ = new Tally(document_);
    column->addWidget(tally_);
    setCentralWidget(whole); // deletes the one before
    whole->show();
    connect(tally_, &Tally::picked, this, &MainWindow::explain);
}

void MainWindow::build_rail(QVBoxLayout* rail) {
    rail->setContentsMargins(0, 10, 0, 0);
    rail->setSpacing(2);
    int id = 0;
    for (const StationKind& kind : station_kinds()) {
        auto* button = new QToolButton;
        button->setObjectName(QString("rail ") + kind.title);
        button->setText(QString("%1 %2").arg(kind.key).arg(tr(kind.title)));
        button->setCheckable(true);
        button->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
        QIcon glyph;
        glyph.addPixmap(icon(kind.icon, theme().ink, {32, 24}), QIcon::Normal, QIcon::Off);
        glyph.addPixmap(icon(kind.icon, theme().on_selected, {32, 24}), QIcon::Normal, QIcon::On);
        button->setIcon(glyph);
        button->setIconSize({32, 24});
        button->setFixedSize(84, 62);
        button->setStyleSheet(
            QString(
                "QToolButton { border: none; border-radius: 0; padding: 0; background: transparent; font-size: 13px; } "
                "QToolButton:checked { background: %1; color: %2; } QToolButton:focus { border: 2px solid %3; }")
                .arg(theme().selected.name(), theme().on_selected.name(), theme().front.name()));
        rail_->addButton(button, id++);
        rail->addWidget(button);
    }
    rail->addStretch();
    connect(rail_, &QButtonGroup::idClicked, this,
            [this](int at) { show_station(station_kinds()[static_cast<std::size_t>(at)].title); });
}

void MainWindow::build_actions() {
    job_menu_ = new QMenu(this);
    const auto add = [&](const QString& text, const QKeySequence& keys, auto&& what) {
        auto* action = new QAction(text, this);
        action->setShortcut(keys);
        connect(action, &QAction::triggered, this, what);
        addAction(action);
        actions_ << action;
        job_menu_->addAction(action);
        return action;
    };
    add(tr("New job"), QKeySequence::New, [this] {
        if (may_leave()) ask_new_car(this, document_);
    });
    add(tr("Open …"), QKeySequence::Open, [this] {
        const QString path =
            QFileDialog::getOpenFileName(this, tr("Open a job"), {}, tr("Dervish jobs (*.dervish *.json)"));
        if (!path.isEmpty() && may_leave()) open(path);
    });
    QMenu* recent = job_menu_->addMenu(tr("Open recent"));
    recent->setObjectName("recent");
    recent->setToolTipsVisible(true);
    connect(recent, &QMenu::aboutToShow, this, [this, recent] { fill_recent(recent); });
    add(tr("Open the demo job"), {}, [this] {
        if (may_leave()) open(demo_path());
    });
    add(tr("Open the hill sprint's demo job"), {}, [this] {
        if (may_leave()) open(QFileInfo(demo_path()).absolutePath() + "/hill-sprint.dervish");
    });
    add(tr("Save"), QKeySequence::Save, [this] { save(); });
    add(tr("Save as …"), QKeySequence::SaveAs, [this] { save_as(); });
    add(tr("Print this station …"), QKeySequence::Print, [this] { print(); });
    job_menu_->addSeparator();
    QAction* undo = document_.undo().createUndoAction(this, tr("Undo"));
    undo->setShortcut(QKeySequence::Undo);
    undo->setObjectName("undo");
    QAction* redo = document_.undo().createRedoAction(this, tr("Redo"));
    redo->setShortcut(QKeySequence::Redo);
    redo->setObjectName("redo");
    for (QAction* action : {undo, redo}) {
        addAction(action);
        job_menu_->addAction(action);
        actions_ << action;
    }
    job_menu_->addSeparator();
    add(tr("Metric"), {}, [this] { document_.set_units(units::System::Metric); });
    add(tr("Inch and pound"), {}, [this] { document_.set_units(units::System::Inch); });
    add(tr("Inch lengths, N/mm rates"), {}, [this] { document_.set_units(units::System::InchMetricRates); });
    add(tr("Day or night garage"), {}, [this] { change_theme(); });
    QMenu* sizes = job_menu_->addMenu(tr("Text size"));
    sizes->setObjectName("text size");
    sizes->setToolTipsVisible(true);
    connect(sizes, &QMenu::aboutToShow, this, [this, sizes] { fill_text_sizes(*sizes, *this); });
    job_menu_->addSeparator();
    add(tr("Find anything …"), {}, [this] { find(); });
    add(tr("Working of a tally figure"), {}, [this] {
        if (!hides()) show_working(this, document_, tally_->asked());
    });
    add(tr("What differs …"), {}, [this] {
        if (!hides()) show_differences(this, document_);
    });
    add(tr("Bands by drawing cars …"), {}, [this] {
        if (!hides()) (new DrawsCard(document_, this))->show();
    });
    add(tr("Measure next"), {}, [this] {
        if (!hides()) current()->measure_next();
    });
    add(tr("Measuring: what is typed was measured"), QKeySequence("Ctrl+M"),
        [this] { document_.set_measuring(!document_.measuring()); });
    add(tr("Keys"), {}, [this] { tell_keys(); });
    add(tr("Quit"), QKeySequence::Quit, [this] { close(); });
    for (const StationKind& kind : station_kinds()) { // wherever the caret is
        auto* go = new QAction(this);
        go->setShortcut(QKeySequence(QString("Alt+%1").arg(kind.key)));
        connect(go, &QAction::triggered, this, [this, kind] {
            show_station(kind.title);
            setFocus(); // Enter goes into its fields from here
        });
        addAction(go);
    }
}

Station* MainWindow::current() const { return static_cast<Station*>(stack_->currentWidget()); }

QString MainWindow::current_title() const { return wanted_; }

Station* MainWindow::station(const QString& title) {
    for (std::size_t i = 0; i < stations_.size(); ++i) {
        if (title != station_kinds()[i].title) continue;
        if (!stations_[i]) {
            stations_[i] = station_kinds()[i].make(document_);
            stack_->addWidget(stations_[i]);
            connect(stations_[i], &Station::field_wanted, this, &MainWindow::go_to_field);
            if (auto* kept = qobject_cast<BookStation*>(stations_[i]))
                connect(kept, &BookStation::prove_wanted, this, [this](int test) {
                    show_station("Prove");
                    if (auto* prove = qobject_cast<ProveStation*>(station("Prove"))) prove->show_test(test);
                });
        }
        return stations_[i];
    }
    return nullptr;
}

bool MainWindow::hides() const { return job::open_guess(document_.job()) != nullptr; }

void MainWindow::hide_answers() {
    if (hides()) {
        hidden_->refresh();
        for (QDialog* card : findChildren<QDialog*>()) // they hold figures
            if (card->isVisible() && !card->isModal()) card->close();
    }
    if (!wanted_.isEmpty() && (stack_->currentWidget() == hidden_) != (hides() && wanted_ != "Prove"))
        show_station(wanted_);
}

void MainWindow::show_station(const QString& title) {
    Station* s = hides() && title != "Prove" ? hidden_ : station(title);
    if (!s) return;
    wanted_ = title;
    const bool within = focusWidget() && stack_->isAncestorOf(focusWidget());
    stack_->setCurrentWidget(s);
    if (within && !s->isAncestorOf(focusWidget())) setFocus(); // the caret does not stay behind, nor jump to a button
    for (std::size_t i = 0; i < station_kinds().size(); ++i)
        if (title == station_kinds()[i].title) rail_->button(static_cast<int>(i))->setChecked(true);
}

void MainWindow::find() {
    std::vector<std::pair<QString, QAbstractButton*>> readings;
    for (const StationKind& kind : station_kinds())
        for (auto* button : station(kind.title)->findChildren<QAbstractButton*>(QRegularExpression("^reading ")))
            readings.emplace_back(tr(kind.title) + ": " + button->text(), button);
    show_find(
        this, document_, actions_, readings, [this](const QString& path) { go_to_field(path); },
        [this](QAbstractButton* reading) {
            for (const StationKind& kind : station_kinds())
                if (station(kind.title)->isAncestorOf(reading)) show_station(kind.title);
            reading->click();
        });
}

void MainWindow::go_to_field(const QString& path) {
    if (hides()) return show_station(wanted_ == "Prove" ? "Car" : wanted_);
    for (const StationKind& kind : station_kinds())
        if (Station* s = station(kind.title); s->go_to(path)) {
            show_station(kind.title);
            s->go_to(path); // again, now that it can take the focus
            return;
        }
}

void MainWindow::explain(say::Figure figure) {
    if (hides()) return show_station("Prove");
    if (document_.old() && !document_.waiting_path().isEmpty()) {
        go_to_field(document_.waiting_path());
        return;
    }
    auto* car = static_cast<CarStation*>(station("Car"));
    switch (figure) {
    case say::Figure::Roll:
        car->ask(study::RollGradient, tr("roll gradient"));
        break;
    case say::Figure::Share:
        car->ask(study::FrontShare, tr("front share"));
        break;
    case say::Figure::Limit:
        show_station("Balance");
        return;
    case say::Figure::Heads:
        static_cast<BalanceStation*>(station("Balance"))->show_ride();
        show_station("Balance");
        return;
    case say::Figure::Lift:
        car->ask(study::LiftHeight, tr("lift height"));
        show_station("Flex");
        return;
    case say::Figure::FrontTravel:
        car->ask(study::FrontTravel, tr("front travel"));
        show_station("Flex");
        return;
    case say::Figure::RearTravel:
        car->ask(study::RearTravel, tr("rear travel"));
        show_station("Flex");
        return;
    case say::Figure::LinkMargin:
        static_cast<LinksStation*>(station("Links"))->show_tightest();
        show_station("Links");
        return;
    }
    show_station("Car");
}

bool MainWindow::eventFilter(QObject* watched, QEvent* event) {
    auto* at = qobject_cast<QWidget*>(watched);
    if (event->type() == QEvent::KeyPress && at && at->window() == this && take_key(at, static_cast<QKeyEvent*>(event)))
        return true;
    return QMainWindow::eventFilter(watched, event);
}

bool MainWindow::take_key(QWidget* at, QKeyEvent* key) {
    if (key->modifiers() & (Qt::ControlModifier | Qt::AltModifier)) return false;
    // Asked of where the caret is: a key that it leaves unused comes by here again on its way out.
    QWidget* caret = focusWidget() ? focusWidget() : at;
    const bool typing = takes_text(caret) || takes_text(at);
    if ((key->key() == Qt::Key_PageDown || key->key() == Qt::Key_PageUp) &&
        (!typing || qobject_cast<QLineEdit*>(caret))) {
        next_part(key->key() == Qt::Key_PageDown ? 1 : -1);
        return true;
    }
    // Letters are keys of the window only where nothing can be typed; cards are windows of their own.
    if (typing) return false;
    const QString text = key->text().toUpper();
    for (const StationKind& kind : station_kinds())
        if (text == QString::number(kind.key)) {
            show_station(kind.title);
            setFocus();
            return true;
        }
    if (hides() && (text == "D" || text == "W" || text == "M")) return true; // what they show answers the guess
    if (text == "T")
        document_.set_look(document_.look() == Look::Trial ? Look::Fitted : Look::Trial);
    else if (text == "D")
        show_differences(this, document_);
    else if (text == "W")
        show_working(this, document_, tally_->asked());
    else if (text == "M")
        current()->measure_next();
    else if (text == "/")
        find();
    else if (text == "?")
        tell_keys();
    else if (text == "[" || text == "]")
        current()->step(text == "]" ? 1 : -1);
    else if (text == " " && !qobject_cast<QAbstractButton*>(caret) && caret != tally_)
        current()->play();
    else if ((key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter) && !qobject_cast<QAbstractButton*>(caret) &&
             caret != tally_)
        enter_fields();
    else
        return false;
    return true;
}

void MainWindow::tell_keys() {
    QStringList titles;
    for (const StationKind& kind : station_kinds()) titles << tr(kind.title);
    show_keys(this, titles);
}

void MainWindow::enter_fields() {
    for (FieldPanel* panel : current()->findChildren<FieldPanel*>())
        if (panel->isVisible()) {
            to_first_entry(panel);
            return;
        }
    to_first_entry(current());
}

void MainWindow::next_part(int by) {
    QButtonGroup* parts = current()->parts();
    if (!parts) return;
    const auto all = parts->buttons();
    const auto count = all.size();
    const auto at = all.indexOf(parts->checkedButton());
    all[(at + by + count) % count]->click();
    enter_fields();
}

void MainWindow::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape)
        setFocus(); // out of a field, so that the keys work
    else
        QMainWindow::keyPressEvent(event);
}

void MainWindow::change_theme() {
    night_ = !night_;
    // The old widgets go first: a style change polishes every widget there is, and these would be polished in vain.
    const QString shown = current_title();
    stations_.clear();
    delete takeCentralWidget();
    stack_ = nullptr;
    use_theme(*qApp, night_);
    setStyleSheet(theme_style());
    build();
    show_station(shown);
}

void MainWindow::tell(const QString& title, const BadInput& error) {
    auto* box = new QMessageBox(
        QMessageBox::NoIcon, title,
        QString::fromStdString(error.where() + "\n\n" + error.problem() + "; " + error.accepted() + "."),
        QMessageBox::Ok, this);
    box->setObjectName("error");
    box->setAttribute(Qt::WA_DeleteOnClose);
    box->open();
}

void MainWindow::update_title() {
    const QString file =
        document_.path().empty() ? tr("not saved yet") : QString::fromStdString(document_.path().filename().string());
    setWindowTitle(QString("%1%2 (%3) - Dervish")
                       .arg(document_.unsaved() ? "* " : "", QString::fromStdString(document_.job().name), file));
}

void MainWindow::remember() {
    remembers_ = true;
    connect(recovery_, &Recovery::failed, this, [this](const QString& why) {
        tell(tr("Unsaved work is not being kept"),
             BadInput("If this session ended now, what was changed since the last save would be lost",
                      why.toStdString(), "save now, and free some space"));
    });
    recovery_->start();
    on_failure([this](const std::string& what) {
        recovery_->write_now();
        if (!told_failures_.insert(what).second) return; // once is enough, however often it is painted
        tell(tr("Something went wrong in Dervish"),
             BadInput("The last action was not carried out", what,
                      "your work is kept; undo the last change, or save and start again"));
    });
    on_refusal([this](const BadInput& why) { tell(tr("This cannot be entered"), why); });
    if (!document_.path().empty()) mark_open(document_.path());
    take_shop_record(document_.path());
    if (!document_.path().empty() && document_.path() != std::filesystem::path(demo_path().toStdString()))
        remember_file();
    restoreGeometry(QSettings().value("window").toByteArray());
    document_.set_units(static_cast<units::System>(QSettings().value("units", 0).toInt()));
    show_station(QSettings().value("station", "Bar").toString());
}

void MainWindow::closeEvent(QCloseEvent* event) {
    if (!ends_ && !may_leave()) {
        event->ignore();
        return;
    }
    if (remembers_) {
        QSettings s;
        s.setValue("window", saveGeometry());
        s.setValue("units", static_cast<int>(document_.units()));
        s.setValue("night", night_);
        s.setValue("station", current_title());
        if (!ends_) recovery_->forget();
        on_failure({});
        on_refusal({});
    }
    event->accept();
}

} // namespace dervish::app
