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
#include <algorithm>
#include <filesystem>
#include <functional>

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

/// Decoded as what its content is and by no other reader, at most 1600 dots wide; nothing where it is no photograph, or
/// one of more dots than cameras take.
QImage photograph(const store::Content& content) {
    constexpr qint64 most_dots = 150'000'000;
    constexpr int widest = 1600;
    QByteArray bytes;
    try {
        bytes = QByteArray::fromStdString(content.bytes());
    } catch (const BadInput&) { // damaged on disk: the rest of the report does not suffer
        return {};
    }
    const std::string kind = store::picture_kind({bytes.constData(), static_cast<std::size_t>(bytes.size())});
    if (kind.empty()) return {};
    QBuffer buffer(&bytes);
    QImageReader reader(&buffer, QByteArray::fromStdString(kind));
    reader.setAutoDetectImageFormat(false);
    reader.setDecideFormatFromContent(false);
    QImageReader::setAllocationLimit(640); // MB: of the largest that is let through
    const QSize size = reader.size();
    if (size.isEmpty() || qint64(size.width()) * size.height() > most_dots) return {};
    if (size.width() > widest)
        reader.setScaledSize({widest, std::max(1, static_cast<int>(qint64(size.height()) * widest / size.width()))});
    reader.setAutoTransform(true);
    return reader.read();
}

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
    std::ranges::reverse(places); // from the end: one that is taken out moves what follows it
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
            const QImage picture = photograph(file->second.content);
            if (picture.isNull()) { // what it is called stands under it
                cursor.removeSelectedText();
                continue;
            }
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

/// What `draw` puts on pages.
std::string pdf_of(const std::function<void(QPdfWriter&)>& draw) {
    QBuffer bytes;
    bytes.open(QIODevice::WriteOnly);
    QPdfWriter pdf(&bytes);
    draw(pdf);
    return bytes.data().toStdString();
}

bool is_pdf(const QString& path) { return path.endsWith(".pdf", Qt::CaseInsensitive); }

/// In its own size, so that the scale holds on paper: on A4 where it goes in.
std::string pdf_of_drawing(const std::string& svg) {
    return pdf_of([&](QPdfWriter& pdf) {
        const double dots = pdf.resolution() / 25.4;
        QSizeF size = QSvgRenderer(QByteArray::fromStdString(svg)).viewBoxF().size() * dots;
        for (const auto sheet : {QPageSize::A4, QPageSize::A3}) {
            pdf.setPageLayout(
                QPageLayout(QPageSize(sheet), QPageLayout::Landscape, QMarginsF(6, 6, 6, 6), QPageLayout::Millimeter));
            if (size.width() <= pdf.width() && size.height() <= pdf.height()) break;
        }
        QPainter p(&pdf);
        const QSizeF room(pdf.width(), pdf.height());
        if (size.width() > room.width() || size.height() > room.height()) size.scale(room, Qt::KeepAspectRatio);
        draw_svg(p, QByteArray::fromStdString(svg), QRectF({0, 0}, size));
    });
}
} // namespace

std::string report_paper(const QString& path, const job::Job& job, const store::Members& attached, say::ReportOf of,
                         int test, const QString& today, units::System system) {
    std::string page = say::usual_template();
    const std::filesystem::path own =
        (QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/report.html").toStdString();
    if (std::filesystem::exists(own)) page = store::read_file(own, 1u << 20);
    const std::string html = say::report(job, of, test, today.toStdString(), system, page);
    if (!is_pdf(path)) return store::with_pictures(html, job, attached, system);
    return pdf_of([&](QPdfWriter& pdf) {
        pdf.setPageSize(QPageSize(QPageSize::A4));
        QTextDocument paper;
        paper.documentLayout()->registerHandler(svg_object, new Drawn(&paper));
        paint::set_paper_font(paper);
        paper.setHtml(qs(html));
        put_pictures(paper, job, attached, system);
        paper.print(&pdf);
    });
}

std::string bar_paper(const QString& path, const job::Assembly& assembly, units::System system) {
    const QString kind = QFileInfo(path).suffix().toLower();
    if (kind == "dxf") return store::bar_dxf(assembly);
    if (kind == "csv") return store::bend_csv(assembly);
    const std::string svg = store::bar_svg(assembly, system);
    return is_pdf(path) ? pdf_of_drawing(svg) : svg;
}

std::string link_paper(const QString& path, const job::LinkData& links, double head, units::System system) {
    if (QFileInfo(path).suffix().toLower() == "dxf") return store::link_dxf(links);
    const std::string svg = store::link_svg(links, head, system);
    return is_pdf(path) ? pdf_of_drawing(svg) : svg;
}

void put_job_sheet(QPagedPaintDevice& paper, const job::Job& job, const say::JobSheet& sheet, units::System system,
                   const std::vector<std::string>& steps_done) {
    paint::print_html(paper, qs(say::job_sheet_html(job, sheet, system, steps_done)));
}

} // namespace dervish::app

#include "papers.moc"
