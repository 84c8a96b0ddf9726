#include "app/shell/main_window.h"
#include "app/shell/new_car_card.h"
#include "app/shell/station.h"
#include "app/shell/stations.h"
#include "app/window_thread.h"
#include "app/words.h"
#include "store/file.h"
#include "store/shop_record.h"

#include <QApplication>
#include <QBuffer>
#include <QCryptographicHash>
#include <QDate>
#include <QDialog>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QLabel>
#include <QLockFile>
#include <QMenu>
#include <QMessageBox>
#include <QPrintDialog>
#include <QPrinter>
#include <QPushButton>
#include <QRegularExpression>
#include <QSettings>
#include <QSocketNotifier>
#include <QStandardPaths>
#include <QVBoxLayout>
#include <csignal>
#include <sys/socket.h>
#include <unistd.h>
#include <utility>

/// The window and its files: opened, saved, marked as open, left, recovered, printed, pictured.
namespace dervish::app {

QString data_folder() { return QStandardPaths::writableLocation(QStandardPaths::AppDataLocation); }

namespace {
std::filesystem::path shop_record_path() { return (data_folder() + "/shop-minutes.json").toStdString(); }
} // namespace

bool MainWindow::open(const QString& path) {
    const std::filesystem::path file = std::filesystem::absolute(path.toStdString());
    const auto before = open_here_;
    if (remembers_ && !mark_open(file)) return false;
    try {
        take_shop_record(file);
        document_.open(file);
        remember_file();
        if (recovery_->started()) recovery_->forget();
        return true;
    } catch (const BadInput& e) {
        open_here_ = before; // the job that stays open
        tell(tr("This job cannot be opened"), e);
        return false;
    }
}

void MainWindow::remember_file() {
    if (!remembers_ || document_.path().empty()) return;
    const QString path = QString::fromStdString(document_.path().string());
    QSettings s;
    s.setValue("job", path);
    QStringList recent = s.value("recent").toStringList();
    recent.removeAll(path);
    recent.prepend(path);
    s.setValue("recent", QStringList(recent.mid(0, 8)));
}

void MainWindow::fill_recent(QMenu* menu) {
    menu->clear();
    const QStringList recent = QSettings().value("recent").toStringList();
    for (const QString& path : recent) {
        if (!QFileInfo::exists(path)) continue;
        QAction* action = menu->addAction(QFileInfo(path).completeBaseName());
        action->setToolTip(path);
        connect(action, &QAction::triggered, this, [this, path] {
            if (may_leave()) open(path);
        });
    }
    if (menu->isEmpty()) menu->addAction(tr("no job was opened or saved yet"))->setEnabled(false);
}

bool MainWindow::mark_open(const std::filesystem::path& file) {
    std::error_code error;
    const QString whole = QString::fromStdString(std::filesystem::weakly_canonical(file, error).string());
    const QString folder = data_folder() + "/open";
    QDir().mkpath(folder);
    const QString name = QCryptographicHash::hash(whole.toUtf8(), QCryptographicHash::Sha1).toHex();
    if (open_here_ && open_here_->fileName() == folder + "/" + name + ".lock") return true;
    auto lock = std::make_shared<QLockFile>(folder + "/" + name + ".lock");
    lock->setStaleLockTime(0);
    if (!lock->tryLock(0) && lock->error() == QLockFile::LockFailedError) { // else it cannot be marked at all
        QMessageBox box(QMessageBox::NoIcon, tr("Open in another window"),
                        tr("“%1” is open in another window. Work on it in two places, and the one saved last "
                           "replaces the other; it would be asked then.")
                            .arg(QFileInfo(whole).fileName()),
                        QMessageBox::NoButton, this);
        box.setObjectName("open elsewhere");
        box.addButton(tr("Open it here too"), QMessageBox::AcceptRole);
        auto* leave = box.addButton(tr("Leave it"), QMessageBox::RejectRole);
        box.exec();
        if (box.clickedButton() == leave) return false;
    }
    open_here_ = std::move(lock);
    return true;
}

bool MainWindow::save() {
    // The demo jobs stay as they are.
    if (document_.path().empty() ||
        document_.path().parent_path() == std::filesystem::path(demo_path().toStdString()).parent_path())
        return save_as();
    if (document_.changed_on_disk() && !may_replace()) return false;
    return save_to(document_.path());
}

bool MainWindow::may_replace() {
    const QString file = QString::fromStdString(document_.path().filename().string());
    const bool gone = !QFileInfo::exists(QString::fromStdString(document_.path().string()));
    QMessageBox box(QMessageBox::NoIcon, tr("Changed on disk"),
                    gone ? tr("“%1” is no longer where it was opened.").arg(file)
                         : tr("“%1” was changed by someone else since it was opened here. Saving over it keeps that "
                              "version among the earlier ones beside it.")
                               .arg(file),
                    QMessageBox::NoButton, this);
    box.setObjectName("changed on disk");
    auto* over = box.addButton(gone ? tr("Save it there again") : tr("Save over it"), QMessageBox::AcceptRole);
    auto* other = box.addButton(tr("Save as …"), QMessageBox::ActionRole);
    box.addButton(QMessageBox::Cancel);
    box.exec();
    if (box.clickedButton() == other) save_as();
    return box.clickedButton() == over;
}

namespace {
/// A job's name as a file's: what no file may be called by is left out.
QString file_name(const std::string& name) {
    QString out = qs(name).simplified();
    out.remove(QRegularExpression("[^\\w .,()-]", QRegularExpression::UseUnicodePropertiesOption));
    while (out.startsWith('.')) out.remove(0, 1);
    out = out.simplified().left(80);
    return (out.isEmpty() ? QString("job") : out) + ".dervish";
}
} // namespace

bool MainWindow::save_as() {
    QString path =
        QFileDialog::getSaveFileName(this, tr("Save the job"), QDir::homePath() + "/" + file_name(document_.job().name),
                                     tr("Dervish jobs (*.dervish)"));
    if (path.isEmpty()) return false;
    if (QFileInfo(path).suffix().isEmpty()) path += ".dervish";
    if (!save_to(path.toStdString())) return false;
    if (remembers_) mark_open(document_.path());
    return true;
}

void MainWindow::take_shop_record(const std::filesystem::path& file) {
    document_.set_shop(store::shop_record(shop_record_path(), file));
}

/// What jobs took, over all that are saved here. That it cannot be written is no reason to worry anybody.
void MainWindow::keep_shop_record() {
    try {
        if (remembers_ && !document_.path().empty())
            store::keep_in_shop_record(shop_record_path(), document_.path(), *document_.job_as_it_is());
    } catch (const BadInput&) {
    } catch (const std::filesystem::filesystem_error&) {
    }
    take_shop_record(document_.path());
}

bool MainWindow::save_to(const std::filesystem::path& path) {
    try {
        document_.save(path);
        recovery_->forget();
        remember_file();
        keep_shop_record();
        return true;
    } catch (const BadInput& e) {
        tell(tr("Not saved"), e);
        return false;
    }
}

bool MainWindow::may_leave() {
    if (!document_.unsaved() || !remembers_) return true;
    QMessageBox box(QMessageBox::NoIcon, tr("Not saved yet"),
                    tr("“%1” has changes that are not saved.").arg(QString::fromStdString(document_.job().name)),
                    QMessageBox::Save | QMessageBox::Discard | QMessageBox::Cancel, this);
    const int answer = box.exec();
    if (answer == QMessageBox::Discard) recovery_->forget();
    return answer == QMessageBox::Save ? save() : answer == QMessageBox::Discard;
}

void MainWindow::end_session() {
    recovery_->write_now();
    ends_ = true;
    close();
}

namespace {
int signal_pipe[2];
void tell_end(int) { // all that a signal's handler may do
    const char byte = 1;
    [[maybe_unused]] const auto written = ::write(signal_pipe[0], &byte, 1);
}
} // namespace

void MainWindow::end_on_signals(std::function<void()> leave) {
    connect(qApp, &QGuiApplication::commitDataRequest, this, [this] { recovery_->write_now(); });
    if (::socketpair(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC, 0, signal_pipe) != 0) return;
    auto* ends = new QSocketNotifier(signal_pipe[1], QSocketNotifier::Read, this);
    connect(ends, &QSocketNotifier::activated, this, [this, ends, leave = std::move(leave)] {
        ends->setEnabled(false);
        end_session();
        leave();
    });
    for (const int signal : {SIGTERM, SIGHUP, SIGINT}) std::signal(signal, tell_end);
}

void MainWindow::open_last_or_offer() {
    const QString last = QSettings().value("job").toString();
    first_start_ = last.isEmpty();
    if (first_start_ || !QFileInfo::exists(last)) return;
    if (recovery_->ended_badly())
        offered_ = last;
    else
        open(last);
}

void MainWindow::offer_recovery() {
    const QList<Recovery::Left> left = recovery_->left_behind();
    if (left.isEmpty() && offered_.isEmpty()) {
        if (std::exchange(first_start_, false)) ask_new_car(this, document_);
        return;
    }
    auto* card = new QDialog(this);
    card->setObjectName("recovery");
    card->setAttribute(Qt::WA_DeleteOnClose);
    card->setWindowTitle(tr("Work that was not saved"));
    auto* column = new QVBoxLayout(card);
    column->setContentsMargins(22, 18, 22, 18);
    if (!offered_.isEmpty()) {
        auto* words =
            new QLabel(tr("<b>The last session did not end as it should.</b> The job that was open then has not "
                          "been opened again, in case that is why:<br>%1")
                           .arg(offered_.toHtmlEscaped()));
        words->setWordWrap(true);
        column->addWidget(words);
        auto* again = new QPushButton(tr("Open it again"));
        again->setObjectName("open last");
        auto* line = new QHBoxLayout;
        line->addWidget(again);
        line->addStretch();
        column->addLayout(line);
        connect(again, &QPushButton::clicked, card, [this, card, last = std::exchange(offered_, {})] {
            if (!may_leave()) return;
            card->close();
            open(last);
        });
    }
    if (!left.isEmpty()) {
        auto* words =
            new QLabel(tr("A session ended before this was saved. It is kept until you take it up or throw it away."));
        words->setWordWrap(true);
        column->addWidget(words);
    }
    auto* later = new QPushButton(left.isEmpty() ? tr("Start without it") : tr("Leave it for later"));
    later->setObjectName("leave it");
    const auto waiting = std::make_shared<qsizetype>(left.size());
    int row = 0;
    for (const Recovery::Left& one : left) {
        const QString of = one.of.isEmpty() ? tr("never saved to a file") : one.of;
        auto* words =
            new QLabel(QString("<b>%1</b>, %2<br>%3<br>%4")
                           .arg(one.name.toHtmlEscaped(), one.when.toString("yyyy-MM-dd hh:mm:ss"), of.toHtmlEscaped(),
                                one.differs.isEmpty() ? tr("no difference from the file")
                                                      : one.differs.join("\n").toHtmlEscaped().replace("\n", "<br>")));
        words->setWordWrap(true);
        column->addWidget(words);
        auto* line = new QHBoxLayout;
        auto *take = new QPushButton(tr("Take it up")), *drop = new QPushButton(tr("Throw it away"));
        take->setObjectName(QString("take up %1").arg(row));
        drop->setObjectName(QString("throw away %1").arg(row++));
        line->addWidget(take);
        line->addWidget(drop);
        line->addStretch();
        column->addLayout(line);
        connect(take, &QPushButton::clicked, card, [this, card, one] {
            if (!may_leave()) return;
            card->close();
            take_up(one);
        });
        connect(drop, &QPushButton::clicked, card, [one, take, drop, words, later, waiting] {
            Recovery::remove(one);
            if (--*waiting == 0) later->setText(tr("Go on"));
            for (QPushButton* b : {take, drop}) b->setEnabled(false);
            words->setEnabled(false);
        });
    }
    column->addWidget(later);
    connect(later, &QPushButton::clicked, card, &QDialog::close);
    card->setMinimumWidth(560);
    card->open();
}

void MainWindow::take_up(const Recovery::Left& left) {
    try {
        store::JobFile file = Recovery::load(left);
        if (!left.of.isEmpty() && remembers_ && !mark_open(left.of.toStdString())) return;
        document_.recover(std::move(file), left.of.toStdString(), left.stamp);
        recovery_->write_now(); // ours before the other goes
        Recovery::remove(left);
    } catch (const BadInput& e) {
        tell(tr("The unsaved work cannot be read"), e);
    }
}

void MainWindow::print() {
    auto printer = std::make_shared<QPrinter>(QPrinter::HighResolution);
    QPrintDialog dialog(printer.get(), this);
    if (dialog.exec() == QDialog::Accepted)
        run_on_worker([printer, pages = draw_pages(*printer)] { print_pages(*printer, pages); });
}

Pages MainWindow::draw_pages(QPagedPaintDevice& paper) {
    const QString setup = tr("%1: %2 · %3 · %4")
                              .arg(document_.look() == Look::Trial ? tr("Trial") : tr("Fitted"),
                                   QString::fromStdString(document_.looked_setup().name), current_title(),
                                   QDate::currentDate().toString(Qt::ISODate));
    return app::draw_pages(paper, *centralWidget(),
                           {QString::fromStdString(document_.job().name), setup, current()->caution_words()});
}

void MainWindow::take_shots(const QString& folder, bool replace) {
    if (!QDir().mkpath(folder))
        throw BadInput(folder.toStdString(), "the folder cannot be made", "give a folder that can be written");
    resize(1280, 800);
    show();
    document_.finish_draws();
    for (const StationKind& kind : station_kinds()) {
        show_station(kind.title);
        Station* s = current();
        for (int shot = 0; shot < s->shot_names().size(); ++shot) {
            s->pose(shot);
            for (int i = 0; i < 4; ++i)
                qApp->processEvents(); // layouts of what has just become visible settle in turns
            const QString file = folder + "/" + s->shot_names()[shot] + ".png";
            QByteArray png;
            QBuffer buffer(&png);
            buffer.open(QIODevice::WriteOnly);
            grab().save(&buffer, "PNG");
            document_.write_made(file, png.toStdString(), replace);
        }
    }
}

} // namespace dervish::app
