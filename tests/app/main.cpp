#define CATCH_CONFIG_RUNNER
#include "app/failure.h"
#include "app/shell/theme.h"

#include <QApplication>
#include <QTemporaryDir>
#include <catch2/catch.hpp>

int main(int argc, char** argv) {
    if (!qEnvironmentVariableIsSet("QT_QPA_PLATFORM")) qputenv("QT_QPA_PLATFORM", "offscreen");
    const QTemporaryDir own; // settings and recoveries of this process alone
    for (const char* where : {"XDG_DATA_HOME", "XDG_CONFIG_HOME", "XDG_CACHE_HOME"})
        qputenv(where, own.path().toUtf8());
    dervish::app::Application app(argc, argv);
    QApplication::setApplicationName("dervish-tests");
    dervish::app::load_fonts(app);
    dervish::app::use_theme(app, false);
    return Catch::Session().run(argc, argv);
}
