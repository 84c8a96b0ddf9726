#include "app/book/papers.h"
#include "app/failure.h"
#include "app/shell/main_window.h"
#include "app/shell/theme.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QDate>
#include <QFileInfo>
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
    write_report(options.value("into"), document.job(), *document.attachments(),
                 static_cast<dervish::say::ReportOf>(kind - std::begin(kinds)), options.value("test").toInt() - 1,
                 today, document.units());
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
    options.addOption({"test", "Which test it is of, from 1.", "N", "1"});
    options.addOption({"today", "The date on it; not given: today.", "DATE"});
    options.process(app);

    load_fonts(app);
    QApplication::setWindowIcon(QIcon(":/icons/mark.svg"));
    const bool shots = options.isSet("shots");
    use_theme(app, options.isSet("night") || (!shots && QSettings().value("night", false).toBool()));
    MainWindow window;
    try {
        if (options.isSet("job"))
            window.document().open(options.value("job").toStdString());
        else if (options.isSet("demo") || shots)
            window.document().open(demo_path().toStdString());
        if (options.isSet("report")) return write_report_of(options, window.document());
        if (shots) {
            window.take_shots(options.value("shots"));
            return 0;
        }
    } catch (const dervish::BadInput& e) {
        std::fprintf(stderr, "dervish: %s\n", e.what());
        if (shots || options.isSet("report")) return 2;
    }
    // The first time with its frame on the screen.
    window.resize(window.size().boundedTo(window.screen()->availableSize() - QSize(8, 40)));
    window.remember();
    if (!options.isSet("job") && !options.isSet("demo")) {
        const QString last = QSettings().value("job").toString();
        if (!last.isEmpty() && QFileInfo::exists(last)) window.open(last);
    }
    window.show();
    if (options.isSet("job") && window.document().path().empty())
        window.open(options.value("job")); // says in the window why not
    QTimer::singleShot(0, &window, &MainWindow::offer_recovery);
    window.end_on_signals([] { QApplication::exit(0); });
    return QApplication::exec();
}
