#include "app/book/papers.h"

#include "app/paint/page.h"
#include "app/shell/theme.h"
#include "app/words.h"
#include "store/drawings.h"
#include "store/file.h"

#include <QAbstractTextDocumentLayout>
#include <QBuffer>
#include <QFileInfo>
#include <QImageReader>
#include <QPainter>
#include <QPdfWriter>
#include <QStandardPaths>
#include <QSvgRenderer>
#include <QTextCursor>
#include <QTextDocument>
#include <QTextFragment>
#include <QTextFrame>
#include <QXmlStreamReader>
#include <QXmlStreamWriter>
#include <filesystem>

namespace dervish::app {
namespace {
constexpr int svg_object = QTextFormat::UserObject + 1, svg_bytes = QTextFormat::UserProperty + 1;

/// Draws one of our drawings, its letters as letters: the renderer would make outlines of them, which nobody can search
/// or copy.
void draw_svg(QPainter& p, const QByteArray& svg, const QRectF& room) {
    QByteArray lines;
    struct Words {
        QPointF at;
        double size;
        bool middle, end;
        QString text;
    };
    std::vector<Words> all;
    QXmlStreamReader in(svg);
    QXmlStreamWriter out(&lines);
    while (!in.atEnd()) {
        in.readNext();
        if (in.isStartElement() && in.name() == QLatin1String("text")) {
            const auto a = in.attributes();
            const auto anchor = a.value("text-anchor");
            all.push_back({{a.value("x").toDouble(), a.value("y").toDouble()},
                           a.value("font-size").toDouble(),
                           anchor == QLatin1String("middle"),
                           anchor == QLatin1String("end"),
                           in.readElementText()});
        } else if (!in.hasError()) {
            out.writeCurrentToken(in);
        }
    }
    QSvgRenderer drawing(lines);
    drawing.render(&p, room);
    const QRectF box = drawing.viewBoxF();
    if (box.isEmpty()) return;
    p.save();
    p.translate(room.topLeft());
    p.scale(room.width() / box.width(), room.height() / box.height());
    p.setPen(Qt::black);
    for (const Words& w : all) {
        constexpr int pixels = 100; // of a font, so that it is not rounded to whole millimetres
        QFont font(face(13).family());
        font.setPixelSize(pixels);
        p.setFont(font);
        p.save();
        p.translate(w.at - box.topLeft());
        p.scale(w.size / pixels, w.size / pixels);
        const double wide = QFontMetricsF(font).horizontalAdvance(w.text);
        p.drawText(QPointF(w.middle ? -wide / 2 : w.end ? -wide : 0, 0), w.text);
        p.restore();
    }
    p.restore();
}

/// Draws what stands in the text as SVG with lines and letters, where an image would be of dots.
class Drawn : public QObject, public QTextObjectInterface {
    Q_OBJECT
    Q_INTERFACES(QTextObjectInterface)

public:
    using QObject::QObject;
    QSizeF intrinsicSize(QTextDocument* paper, int, const QTextFormat& format) override {
        const QSizeF size = QSvgRenderer(format.property(svg_bytes).toByteArray()).viewBoxF().size();
        const QTextFrameFormat page = paper->rootFrame()->frameFormat(); // in the paper's own dots
        const double room = paper->pageSize().width() - page.leftMargin() - page.rightMargin();
        return size.isEmpty() || !(room > 0) ? QSizeF(1, 1) : size * 0.9 * room / size.width();
    }
    void drawObject(QPainter* p, const QRectF& room, QTextDocument*, int, const QTextFormat& format) override {
        draw_svg(*p, format.property(svg_bytes).toByteArray(), room);
    }
};

/// Puts each picture that is named in the text into it.
void put_pictures(QTextDocument& paper, const job::Job& job, const store::Members& attached, units::System system) {
    struct Place {
        int at;
        QString name;
    };
    std::vector<Place> places;
    for (QTextBlock block = paper.begin(); block.isValid(); block = block.next())
        for (auto it = block.begin(); !it.atEnd(); ++it)
            if (const QTextFragment f = it.fragment(); f.charFormat().isImageFormat())
                for (int i = 0; i < f.length(); ++i)
                    places.push_back({f.position() + i, f.charFormat().toImageFormat().name()});
    for (const Place& place : places) {
        QTextCursor cursor(&paper);
        cursor.setPosition(place.at);
        cursor.setPosition(place.at + 1, QTextCursor::KeepAnchor);
        const std::string name = place.name.section(':', 1).toStdString();
        if (place.name.startsWith("drawing:")) {
            const std::string svg = store::drawing(job, name, system);
            if (svg.empty()) {
                cursor.removeSelectedText();
                continue;
            }
            QTextCharFormat format;
            format.setObjectType(svg_object);
            format.setProperty(svg_bytes, QByteArray::fromStdString(svg));
            cursor.insertText(QString(QChar::ObjectReplacementCharacter), format);
        } else if (const auto file = attached.find(name); file != attached.end()) {
            QByteArray bytes = QByteArray::fromStdString(file->second.bytes);
            QBuffer buffer(&bytes);
            QImageReader reader(&buffer);
            reader.setAutoTransform(true);
            QImage picture = reader.read();
            if (picture.isNull()) continue; // what it is called stands under it
            if (picture.width() > 1600) picture = picture.scaledToWidth(1600, Qt::SmoothTransformation);
            paper.addResource(QTextDocument::ImageResource, QUrl(place.name), picture);
            QTextImageFormat format;
            format.setName(place.name);
            const double wide = std::min(picture.width(), 460);
            format.setWidth(wide);
            format.setHeight(wide * picture.height() / picture.width());
            cursor.setCharFormat(format);
        }
    }
}

void must_be_written(const QString& path) {
    if (!QFileInfo(path).size())
        throw BadInput(path.toStdString(), "cannot be written there", "a folder that may be written to");
}

/// In its own size, so that the scale holds on paper: on A4 where it goes in.
void write_drawing(const QString& path, const std::string& svg) {
    if (QFileInfo(path).suffix().toLower() != "pdf") return store::write_file(path.toStdString(), svg);
    QPdfWriter pdf(path);
    const double dots = pdf.resolution() / 25.4;
    QSizeF size = QSvgRenderer(QByteArray::fromStdString(svg)).viewBoxF().size() * dots;
    for (const auto sheet : {QPageSize::A4, QPageSize::A3}) {
        pdf.setPageLayout(
            QPageLayout(QPageSize(sheet), QPageLayout::Landscape, QMarginsF(6, 6, 6, 6), QPageLayout::Millimeter));
        if (size.width() <= pdf.width() && size.height() <= pdf.height()) break;
    }
    QPainter p(&pdf);
    if (!p.isActive()) throw BadInput(path.toStdString(), "cannot be written there", "a folder that may be written to");
    const QSizeF room(pdf.width(), pdf.height());
    if (size.width() > room.width() || size.height() > room.height()) size.scale(room, Qt::KeepAspectRatio);
    draw_svg(p, QByteArray::fromStdString(svg), QRectF({0, 0}, size));
}
} // namespace

void write_report(const QString& path, const job::Job& job, const store::Members& attached, say::ReportOf of, int test,
                  const QString& today, units::System system) {
    std::string page = say::usual_template();
    const std::filesystem::path own =
        (QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/report.html").toStdString();
    if (std::filesystem::exists(own)) page = store::read_file(own, 1u << 20);
    const std::string html = say::report(job, of, test, today.toStdString(), system, page);
    if (!path.endsWith(".pdf", Qt::CaseInsensitive))
        return store::write_file(path.toStdString(), store::with_pictures(html, job, attached, system));
    QPdfWriter pdf(path);
    pdf.setPageSize(QPageSize(QPageSize::A4));
    QTextDocument paper;
    paper.documentLayout()->registerHandler(svg_object, new Drawn(&paper));
    paint::set_paper_font(paper);
    paper.setHtml(qs(html));
    put_pictures(paper, job, attached, system);
    paper.print(&pdf);
    must_be_written(path);
}

void write_bar(const QString& path, const job::Assembly& assembly, units::System system) {
    const QString kind = QFileInfo(path).suffix().toLower();
    if (kind == "dxf") return store::write_file(path.toStdString(), store::bar_dxf(assembly));
    if (kind == "csv") return store::write_file(path.toStdString(), store::bend_csv(assembly));
    write_drawing(path, store::bar_svg(assembly, system));
}

void write_link(const QString& path, const job::LinkData& links, double head, units::System system) {
    if (QFileInfo(path).suffix().toLower() == "dxf")
        return store::write_file(path.toStdString(), store::link_dxf(links));
    write_drawing(path, store::link_svg(links, head, system));
}

void put_job_sheet(QPagedPaintDevice& paper, const job::Job& job, const say::JobSheet& sheet, units::System system,
                   const std::vector<std::string>& steps_done) {
    paint::print_html(paper, qs(say::job_sheet_html(job, sheet, system, steps_done)));
}

} // namespace dervish::app

#include "papers.moc"
