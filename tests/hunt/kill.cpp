#include "app/failure.h"
#include "app/shell/main_window.h"
#include "app/shell/theme.h"

#include <QtTest>
#include <QtWidgets>
#include <csignal>
#include <fstream>
#include <sys/wait.h>
#include <unistd.h>

using namespace dervish;
using namespace dervish::app;
namespace fs = std::filesystem;

/// Kills at any moment: of a saver (the file that stands must be whole); of a window in which someone types without a
/// pause beside five photographs of 20 MB, alone or beside a second window (nothing older than 3 s may be lost); and
/// of the start after it, which offers what was left behind. By hand: dervish-hunt-kill [save kills [typing kills]];
/// exit code 1 where a file was torn or work was lost.
namespace {
std::string photograph(std::size_t size) {
    std::mt19937 engine(3);
    std::string out(size, '\0');
    for (char& c : out) c = static_cast<char>(engine());
    return out;
}

[[noreturn]] void save_for_ever(const fs::path& path) {
    store::JobFile file = store::load(demo_path().toStdString());
    file.attachments["log.csv"].content = std::string(300000, 'x');
    file.attachments["photo.jpg"].content = photograph(3 << 20); // large enough to be written behind
    for (int i = 0;; ++i) {
        file.job.name = "round " + std::to_string(i);
        file.attachments = store::save(file, path);
    }
}

qint64 now() { return QDateTime::currentMSecsSinceEpoch(); }

/// As the program starts: what was left behind is offered.
int start(int argc, char** argv) {
    Application app(argc, argv);
    QApplication::setApplicationName("dervish-kill");
    load_fonts(app);
    use_theme(app, false);
    MainWindow window;
    window.remember();
    window.open_last_or_offer();
    window.show();
    QTimer::singleShot(0, &window, &MainWindow::offer_recovery);
    QTimer::singleShot(20000, &app, &QApplication::quit);
    return QApplication::exec();
}

/// Types a diameter that grows from `first` by 0.01 mm each time, and notes when.
int type_for_ever(int argc, char** argv, double first) {
    Application app(argc, argv);
    QApplication::setApplicationName("dervish-kill");
    load_fonts(app);
    use_theme(app, false);
    MainWindow window;
    window.open(demo_path());
    window.remember();
    window.show();
    const std::string picture = std::string(argv[2]) + ".jpg";
    std::ofstream(picture, std::ios::binary) << photograph(20 << 20);
    for (int i = 0; i < 5; ++i) { // which nothing that is typed waits for
        std::fstream(picture, std::ios::binary | std::ios::in | std::ios::out) << i;
        window.document().attach(picture);
    }
    std::ofstream log(argv[2]);
    QElapsedTimer alive; // nobody outlives the one who would kill it
    alive.start();
    for (int n = 0; n < 4000 && alive.elapsed() < 20000; ++n) {
        window.document().type("trial/front/bar/outer_diameter", QString::number(first + 0.01 * n, 'f', 2));
        log << n << " " << now() << std::endl;
        QTest::qWait(30);
    }
    return 0;
}

/// How much of the work begun at `first`, ms, was not in what was left behind; -1: torn.
qint64 lost(const fs::path& folder, const fs::path& log, qint64 killed, double first) {
    std::map<int, qint64> typed;
    std::ifstream in(log);
    for (int n; in >> n;) in >> typed[n];
    if (typed.empty()) return 0;
    int kept = -1;
    std::error_code error;
    for (const auto& entry : fs::recursive_directory_iterator(folder, error))
        if (entry.path().string().ends_with(".job.json")) {
            try {
                const job::Job job = store::load(entry.path()).job;
                const double typed_to = job.trial.front.bar.outer_diameter.value * 1e3 - first;
                if (typed_to > -1 && typed_to < 9)
                    kept = std::max(kept, static_cast<int>(std::lround(typed_to / 0.01)));
            } catch (const BadInput& e) {
                std::printf("torn: %s\n", e.what());
                return -1;
            }
        }
    const auto first_lost = typed.upper_bound(kept);
    return first_lost == typed.end() ? 0 : killed - first_lost->second;
}
} // namespace

int main(int argc, char** argv) {
    if (!qEnvironmentVariableIsSet("QT_QPA_PLATFORM")) qputenv("QT_QPA_PLATFORM", "offscreen");
    if (argc == 4 && QByteArray(argv[1]) == "type") return type_for_ever(argc, argv, std::atof(argv[3]));
    if (argc == 4 && QByteArray(argv[1]) == "start") return start(argc, argv);
    const int saves = argc > 1 ? std::atoi(argv[1]) : 1000, typings = argc > 2 ? std::atoi(argv[2]) : 200;
    std::mt19937 engine{5};
    QTemporaryDir place;
    const fs::path folder = place.path().toStdString(), file = folder / "job.dervish";
    store::save({job::blank(), {}}, file);
    int torn = 0, beside = 0;
    for (int i = 0; i < saves; ++i) {
        const pid_t child = ::fork();
        if (child == 0) save_for_ever(file);
        ::usleep(static_cast<useconds_t>(5000 + engine() % 120000));
        ::kill(child, SIGKILL);
        ::waitpid(child, nullptr, 0);
        try {
            store::load(file);
            for (const fs::path& earlier : store::earlier_files(file)) store::load(earlier);
        } catch (const BadInput& e) {
            ++torn;
            std::printf("torn: %s\n", e.what());
        }
    }
    for (const auto& entry : fs::directory_iterator(folder)) beside += entry.path().extension() == ".part";
    std::printf("%d kills while saving: %d torn, %d left beside\n", saves, torn, beside);
    std::fflush(stdout);
    int over = 0, kills = 0;
    qint64 worst = 0;
    const auto program = [](const fs::path& home, const char* what, const fs::path& log, const std::string& first) {
        const pid_t child = ::fork();
        if (child != 0) return child;
        for (const char* where : {"XDG_DATA_HOME", "XDG_CONFIG_HOME", "HOME"}) ::setenv(where, home.c_str(), 1);
        ::freopen("/dev/null", "w", stderr);
        ::execl("/proc/self/exe", "dervish-hunt-kill", what, log.c_str(), first.c_str(), nullptr);
        ::_exit(1);
    };
    for (int i = 0; kills < typings; ++i) {
        const fs::path home = folder / ("home" + std::to_string(i));
        fs::create_directories(home);
        struct Window {
            double first;
            fs::path log;
            pid_t child;
            qint64 killed;
        };
        std::vector<Window> windows;
        for (int w = 0; w < 1 + i % 2; ++w) {
            const double first = 30 + 10 * w; // unlike what the demo has
            const fs::path log = home / ("typed" + std::to_string(w) + ".txt");
            windows.push_back({first, log, program(home, "type", log, std::to_string(first)), 0});
        }
        const auto end = [&](pid_t child, int shortest, int longest) {
            ::usleep(static_cast<useconds_t>(shortest + static_cast<int>(engine() % static_cast<unsigned>(longest))));
            ::kill(child, SIGKILL);
            ::waitpid(child, nullptr, 0);
            ++kills;
        };
        for (Window& w : windows) {
            end(w.child, 1000000, 4000000);
            w.killed = now();
        }
        if (i % 3 == 0) end(program(home, "start", {}, {}), 100000, 2000000);
        for (const Window& w : windows) {
            const qint64 gone = lost(home, w.log, w.killed, w.first);
            worst = std::max(worst, gone);
            over += gone < 0 || gone > 3000;
        }
        fs::remove_all(home);
    }
    std::printf("%d kills of windows: %d lost more than 3 s or were torn, the most lost %lld ms\n", kills, over, worst);
    return torn + over > 0; // a hidden file beside is told, and harms nothing
}
