#include "app/shell/theme.h"

#include <QApplication>
#include <QFile>
#include <QFontDatabase>
#include <QMenu>
#include <QPainter>
#include <QPalette>
#include <QScreen>
#include <QSettings>
#include <QSvgRenderer>
#include <QWidget>
#include <QtEndian>
#include <algorithm>
#include <map>

/// The resources live in a static library, so they are named once (outside of any namespace, as Qt asks).
static void init_resources() { Q_INIT_RESOURCE(dervish); }

namespace dervish::app {
namespace {
const Theme paper{"#F3EEE2", "#FBF8F0", "#1E2A38", "#5C6675", "#D3CBB9", "#0B5C6B", "#B96F08",
                  "#A8321F", "#1E2A38", "#FFFFFF", "#1E2A38", "#FBF8F0", "#B9C2CE"};
const Theme garage{"#14191F", "#1C232B", "#ECE6D6", "#9BA6B3", "#38424E", "#57B7C7", "#E5A54B",
                   "#F0826B", "#ECE6D6", "#14191F", "#0B0F13", "#ECE6D6", "#94A0AE"};
const Theme* current = &paper;

QString style(const Theme& t) {
    const auto c = [](const QColor& colour) { return colour.name(); };
    return QStringLiteral(R"(
        QWidget { color: %ink; font-size: 13px; }
        QToolTip { background: %panel; color: %ink; border: 1px solid %rule; padding: 4px; }
        #ground { background: %ground; }
        #panel, QScrollArea, QScrollArea > QWidget > QWidget { background: %panel; border: none; }
        QDialog, QMessageBox, QMenu { background: %panel; }
        QMenu { border: 1px solid %rule; padding: 4px; } QMenu::item { padding: 5px 24px 5px 12px; } QMenu::item:selected { background: %selected; color: %on; }
        QLineEdit, QTextEdit, QPlainTextEdit, QComboBox, QDateEdit { background: %field; border: 1px solid %rule; border-radius: 4px; padding: 3px 6px; font-size: 14px; selection-background-color: %selected; selection-color: %on; }
        QLineEdit:focus, QTextEdit:focus, QComboBox:focus { border: 2px solid %ink; padding: 2px 5px; }
        QLineEdit:disabled, QLineEdit:read-only { color: %soft; background: %panel; }
        QLineEdit[bad="true"] { border: 2px solid %caution; padding: 2px 5px; }
        QComboBox QAbstractItemView { background: %panel; selection-background-color: %selected; selection-color: %on; }
        QPushButton, QToolButton { background: %field; border: 1px solid %soft; border-radius: 4px; padding: 5px 12px; font-weight: bold; }
        QPushButton:hover, QToolButton:hover { border-color: %ink; } QPushButton:focus, QToolButton:focus { border: 2px solid %ink; padding: 4px 11px; }
        QPushButton:checked, QToolButton:checked { background: %selected; color: %on; border-color: %selected; }
        QPushButton:disabled { color: %soft; border-color: %rule; }
        QPushButton[flat="true"] { border: none; background: transparent; font-weight: normal; }
        QComboBox::drop-down { border: none; width: 20px; } QComboBox::down-arrow { image: url(:/icons/down.svg); width: 12px; height: 8px; }
        QCheckBox::indicator { width: 14px; height: 14px; border: 1px solid %soft; border-radius: 2px; background: %field; } QCheckBox::indicator:checked { image: url(:/icons/tick.svg); }
        QCheckBox { spacing: 7px; } QCheckBox:focus { text-decoration: underline; }
        QScrollBar:vertical { background: transparent; width: 9px; } QScrollBar::handle:vertical { background: %rule; border-radius: 4px; min-height: 24px; }
        QScrollBar:horizontal { background: transparent; height: 9px; } QScrollBar::handle:horizontal { background: %rule; border-radius: 4px; }
        QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
        QSlider::groove:horizontal { height: 2px; background: %soft; } QSlider::handle:horizontal { background: %ink; width: 14px; margin: -7px 0; border-radius: 7px; }
        QListWidget { background: %field; border: 1px solid %rule; border-radius: 4px; } QListWidget::item { padding: 5px 8px; } QListWidget::item:selected { background: %selected; color: %on; }
        QTableWidget { background: %field; gridline-color: %rule; border: 1px solid %rule; } QHeaderView::section { background: %panel; color: %soft; border: none; padding: 3px; font-size: 13px; }
    )")
        .replace("%panel", c(t.panel))
        .replace("%ground", c(t.ground))
        .replace("%ink", c(t.ink))
        .replace("%soft", c(t.soft))
        .replace("%rule", c(t.rule))
        .replace("%selected", c(t.selected))
        .replace("%caution", c(t.caution))
        .replace("%on", c(t.on_selected))
        .replace("%field", current == &paper ? "#FFFFFF" : "#11161B");
}
} // namespace

const Theme& theme() { return *current; }

void use_theme(QApplication& app, bool night) {
    current = night ? &garage : &paper;
    QPalette p;
    p.setColor(QPalette::Window, current->panel);
    p.setColor(QPalette::Base, current->panel);
    p.setColor(QPalette::Button, current->panel);
    for (const auto role : {QPalette::WindowText, QPalette::Text, QPalette::ButtonText}) p.setColor(role, current->ink);
    p.setColor(QPalette::Highlight, current->selected);
    p.setColor(QPalette::HighlightedText, current->on_selected);
    p.setColor(QPalette::PlaceholderText, current->soft);
    app.setPalette(p);
}

QString theme_style() { return style(*current); }

namespace {
/// The shipped typeface's family, here under a name of our own: where the system has the family too, its monospaced
/// face could be taken for it.
constexpr QByteArrayView family = "B612", own_family = "Drvs";

/// A typeface with its family renamed in its table of names (OpenType, "name"): letters of one or of two bytes.
QByteArray renamed(QByteArray font) {
    const auto at = [&](qsizetype place) { return qFromBigEndian<quint32>(font.constData() + place); };
    const int tables = qFromBigEndian<quint16>(font.constData() + 4);
    for (int i = 0; i < tables; ++i) {
        const qsizetype record = 12 + 16 * i;
        if (font.mid(record, 4) != "name") continue;
        const qsizetype from = at(record + 8), size = at(record + 12);
        QByteArray names = font.mid(from, size), wide, own_wide;
        for (qsizetype c = 0; c < family.size(); ++c) {
            wide.append('\0').append(family[c]);
            own_wide.append('\0').append(own_family[c]);
        }
        names.replace(wide, own_wide).replace(family, own_family);
        font.replace(from, size, names);
    }
    return font;
}
} // namespace

void load_fonts(QApplication& app) {
    init_resources();
    for (const char* name : {":/fonts/B612-Regular.otf", ":/fonts/B612-Bold.otf"}) {
        QFile file(name);
        if (file.open(QIODevice::ReadOnly)) QFontDatabase::addApplicationFontFromData(renamed(file.readAll()));
    }
    app.setFont(face(13));
}

namespace {
constexpr const char* text_key = "text";
constexpr int text_sizes[] = {100, 125, 150, 200};
int text_size() {
    const int kept = QSettings().value(text_key, 100).toInt();
    return std::ranges::find(text_sizes, kept) != std::end(text_sizes) ? kept : 100; // whatever stands in the file
}
} // namespace

void use_text_size() {
    const int size = text_size();
    if (size != 100 && !qEnvironmentVariableIsSet("QT_SCALE_FACTOR"))
        qputenv("QT_SCALE_FACTOR", QByteArray::number(size / 100.0));
}

void fill_text_sizes(QMenu& menu, QWidget& window) {
    menu.clear();
    const double now = qEnvironmentVariable("QT_SCALE_FACTOR", "1").toDouble();
    const QSizeF screen = window.screen()->availableSize().toSizeF() * now;
    for (const int size : text_sizes) {
        QAction* action = menu.addAction(
            QObject::tr("%1 % %2").arg(size).arg(size == text_size() ? QString() : QObject::tr("from the next start")));
        action->setCheckable(true);
        action->setChecked(size == text_size());
        const QSizeF least = window.minimumSize().toSizeF() * (size / 100.0);
        const bool fits = least.width() <= screen.width() && least.height() <= screen.height();
        action->setEnabled(fits || size == 100);
        if (!fits)
            action->setToolTip(
                QObject::tr("The window would need a screen of %1 x %2").arg(least.width()).arg(least.height()));
        QObject::connect(action, &QAction::triggered, &window, [size] { QSettings().setValue(text_key, size); });
    }
}

QFont face(int pixels, bool bold) {
    static std::map<std::pair<int, bool>, QFont> made; // looking a family up costs more than painting a word
    const auto at = made.find({pixels, bold});
    if (at != made.end()) return at->second;
    QFont font(QString::fromLatin1(own_family));
    font.setPixelSize(pixels);
    font.setBold(bold);
    font.setStyleStrategy(QFont::NoSubpixelAntialias); // a picture of words looks as the words do
    return made.emplace(std::pair{pixels, bold}, font).first->second;
}

QPixmap icon(const QString& name, const QColor& colour, QSize size) {
    QFile file(":/icons/" + name + ".svg");
    if (!file.open(QIODevice::ReadOnly)) return {};
    QSvgRenderer renderer(file.readAll().replace("#1E2A38", colour.name().toLatin1()));
    const qreal ratio = qApp->devicePixelRatio();
    QPixmap out(size * ratio);
    out.setDevicePixelRatio(ratio);
    out.fill(Qt::transparent);
    QPainter painter(&out);
    renderer.setAspectRatioMode(Qt::KeepAspectRatio);
    renderer.render(&painter, QRectF(QPointF(), QSizeF(size)));
    return out;
}

QColor axle_colour(End end) { return end == End::Front ? current->front : current->rear; }

} // namespace dervish::app
