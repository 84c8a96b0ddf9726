#include "app/book/papers.h"
#include "app/failure.h"
#include "app/shell/main_window.h"
#include "app/shell/theme.h"
#include "core/job/dates.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QDate>
#include <QScreen>
#include <QSettings>
#include <QTimer>
#include <algorithm>
#include <cstdio>

using namespace dervish::app;

namespace {
int write_report_of(const QCommandLineParser& options, Document& document) {
    constexpr const char* kinds[] = {"job", "test", "bar", "rules"};
    const auto* kind = std::find(std::begin(kinds), std::end(kinds), options.value("report"));
    if (kind == std::end(kinds))
        throw dervish::BadInput("report", "\"" + options.value("report").toStdString() + "\" is no report",
                                "job, test, bar or rules");
    const QString today = options.isSet("today") ? options.value("today") : QDate::currentDate().toString(Qt::ISODate);
    const QString into = options.value("into");
    if (into.isEmpty()) throw dervish::BadInput("into", "no file is given", "--into report.pdf, or .html");
    bool whole = false;
    const int test = options.value("test").toInt(&whole);
    if (!whole || test < 1)
        throw dervish::BadInput("test", "\"" + options.value("test").toStdString() + "\" is no test",
                                "a whole number from 1");
    if (!dervish::job::day_of(today.toStdString()))
        throw dervish::BadInput("today", "\"" + today.toStdString() + "\" is no date", "such as 2031-05-11");
    document.write_made(into,
                        report_paper(into, document.job(), *document.attachments(),
                                     static_cast<dervish::say::ReportOf>(kind - std::begin(kinds)), test - 1, today,
                                     document.units()),
                        options.isSet("force"));
    return 0;
}
} // namespace

int main(int argc, char** argv) {
    QApplication::setApplicationName("dervish"); // under which its settings are found
    QApplication::setOrganizationName("dervish");
    bool pictures = false;
    for (int i = 1; i < argc; ++i)
        for (const char* alone : {"--shots", "--report", "--help", "-h"})
            pictures = pictures || QByteArray(argv[i]) == alone;
    if (pictures)
        qputenv("QT_QPA_PLATFORM", "offscreen"); // they need no display
    else
        use_text_size();
    Application app(argc, argv);
    QCommandLineParser options;
    options.setApplicationDescription("Anti-roll bars: calculated, balanced, proved, and kept in a book.");
    options.addHelpOption();
    options.addOption({"demo", "Start with the demo job."});
    options.addOption({"job", "Start with this job.", "FILE"});
    options.addOption({"shots", "Write every station as a picture into DIR and end; needs no display.", "DIR"});
    options.addOption({"night", "The dark theme."});
    options.addOption(
        {"report", "Write a report of the job (job, test, bar or rules) and end; needs no display.", "OF"});
    options.addOption({"into", "The report's file, PDF or HTML by its name.", "FILE"});
    options.addOption({"force", "Replace files that are there; never the job itself."});
    options.addOption({"test", "Which test it is of, from 1.", "N", "1"});
    options.addOption({"today", "The date on it; not given: today.", "DATE"});
    options.process(app);

    load_fonts(app);
    QApplication::setWindowIcon(QIcon(":/icons/mark.svg"));
    const bool shots = options.isSet("shots");
    use_theme(app, options.isSet("night") || (!shots && QSettings().value("night", false).toBool()));
    MainWindow window;
    const bool papers = shots || options.isSet("report");
    try {
        if (papers && options.isSet("job"))
            window.document().open(options.value("job").toStdString());
        else if (options.isSet("demo") || shots)
            window.document().open(demo_path().toStdString());
        if (options.isSet("report")) return write_report_of(options, window.document());
        if (shots) {
            window.take_shots(options.value("shots"), options.isSet("force"));
            return 0;
        }
    } catch (const dervish::BadInput& e) {
        std::fprintf(stderr, "dervish: %s\n", e.what());
        if (papers) return 2;
    }
    // The first time with its frame on the screen.
    window.resize(window.size().boundedTo(window.screen()->availableSize() - QSize(8, 40)));
    window.remember();
    if (options.isSet("job"))
        window.open(options.value("job")); // says in the window why not
    else if (!options.isSet("demo"))
        window.open_last_or_offer();
    window.show();
    QTimer::singleShot(0, &window, &MainWindow::offer_recovery);
    window.end_on_signals([] { QApplication::exit(0); });
    return QApplication::exec();
}
