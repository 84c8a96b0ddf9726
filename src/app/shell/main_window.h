#pragma once
#include "app/document.h"
#include "app/recovery.h"
#include "app/shell/print.h"
#include "core/say/working.h"

#include <QMainWindow>

#include <memory>
#include <set>

class QButtonGroup;
class QMenu;
class QPagedPaintDevice;
class QLockFile;
class QStackedWidget;
class QVBoxLayout;

namespace dervish::app {

class HiddenPage;
class Station;
class Tally;

/// The window: rail, top bar, stations, tally.
class MainWindow : public QMainWindow {
    Q_OBJECT

public:
    explicit MainWindow(QWidget* parent = nullptr);
    void find();
    void go_to_field(const QString& path); ///< wherever it is entered
    ~MainWindow() override;

    Document& document() { return document_; }
    Tally& tally() { return *tally_; }
    Station* station(const QString& title); ///< made when first asked for
    void show_station(const QString& title);

    /// Opens a job, telling why when it cannot; the open job is then untouched.
    bool open(const QString& path);
    bool save();
    /// Opens the job that was open last; where that session ended badly, offer_recovery() offers it instead.
    void open_last_or_offer();
    /// Offers what interrupted sessions left, if anything; asks for the kind of car at the first start of all.
    void offer_recovery();
    /// Keeps what is not saved and closes without asking: the session is about to end.
    void end_session();
    /// Has end_session() called, then `leave`, when the process is told to end from outside.
    void end_on_signals(std::function<void()> leave);
    Recovery& recovery() { return *recovery_; }
    /// Every station as a 1280 × 800 picture in `folder`; over those that are there only where it may `replace` them.
    /// Throws BadInput when it cannot be written.
    void take_shots(const QString& folder, bool replace = false);
    /// The station as it stands, with whose it is and of which setup (print.h).
    Pages draw_pages(QPagedPaintDevice& paper);
    /// Remembers the window and the last job between sessions (not in tests and pictures).
    void remember();

protected:
    void closeEvent(QCloseEvent*) override;
    bool eventFilter(QObject*, QEvent*) override;
    void keyPressEvent(QKeyEvent*) override;

private:
    void build();
    void build_actions();
    void build_rail(QVBoxLayout* rail);
    bool save_as();
    bool save_to(const std::filesystem::path& path);
    bool may_leave();
    bool may_replace();
    void keep_shop_record();
    void take_shop_record(const std::filesystem::path& file);
    void remember_file();                              ///< to be opened again
    void fill_recent(QMenu* menu);                     ///< with the jobs remembered that are still there
    bool mark_open(const std::filesystem::path& file); ///< false: open elsewhere, and to be left there
    void take_up(const Recovery::Left& left);
    bool take_key(QWidget* at, QKeyEvent* key);
    void tell_keys();
    void enter_fields();    ///< puts the caret into the station's first
    void next_part(int by); ///< of the station's panel
    void change_theme();
    void print();
    void explain(say::Figure figure);
    void tell(const QString& title, const BadInput& error);
    void update_title();
    bool hides() const;  ///< a guess is open
    void hide_answers(); ///< while a guess is open, and show them again after it
    Station* current() const;
    QString current_title() const;

    Document document_;
    std::vector<Station*> stations_; ///< of station_kinds(); null: nobody was there yet
    QStackedWidget* stack_ = nullptr;
    HiddenPage* hidden_ = nullptr; ///< in place of what would answer an open guess
    QString wanted_;               ///< the station that was asked for
    QButtonGroup* rail_ = nullptr;
    Tally* tally_ = nullptr;
    QMenu* job_menu_ = nullptr;
    QList<QAction*> actions_;
    Recovery* recovery_;
    std::shared_ptr<QLockFile> open_here_; ///< held while the job is open here
    bool first_start_ = false; ///< no job was ever open here: offer_recovery() asks for the car then
    QString offered_; ///< the job of a session that ended badly, until offer_recovery() has offered it
    std::set<std::string> told_failures_;
    bool remembers_ = false, night_ = false, ends_ = false;
};

/// Path of the demo job: installed, or in the source tree.
QString demo_path();

/// Where a person's unsaved work and marks of open jobs are kept.
QString data_folder();

} // namespace dervish::app
