#include <QtTest>
#include <QtWidgets>
#include <catch2/catch.hpp>

#include "app/book/book_station.h"
#include "app/book/paper_row.h"
#include "app/book/papers.h"
#include "app/book/story_view.h"
#include "app/prove/test_sheet.h"
#include "app/words.h"
#include "bench_window.h"
#include "core/edit/book.h"
#include "core/say/test_sheet.h"
#include "store/drawings.h"

#include <QPdfWriter>
#include <algorithm>
#include <fstream>
#include <regex>
#include <sys/stat.h>

using namespace dervish;
using namespace dervish::app;

/// Papers are read back by another program than the one that wrote them: Debian's pdftotext.
namespace {
struct PdfWord {
    int page;
    QRectF at;
    QString text;
};
struct PdfPages {
    std::vector<QSizeF> pages;
    std::vector<PdfWord> words;
};

PdfPages read_back(const QString& pdf) {
    QProcess reader;
    reader.start("pdftotext", {"-bbox", pdf, "-"});
    REQUIRE(reader.waitForFinished());
    REQUIRE(reader.exitCode() == 0);
    PdfPages out;
    static const QRegularExpression page("<page width=\"([\\d.]+)\" height=\"([\\d.]+)\""),
        word("<word xMin=\"([-\\d.]+)\" yMin=\"([-\\d.]+)\" xMax=\"([-\\d.]+)\" yMax=\"([-\\d.]+)\">(.*)</word>");
    for (const QString& line : QString::fromUtf8(reader.readAllStandardOutput()).split('\n')) {
        if (const auto p = page.match(line); p.hasMatch())
            out.pages.emplace_back(p.captured(1).toDouble(), p.captured(2).toDouble());
        if (const auto w = word.match(line); w.hasMatch()) {
            QTextDocument decoded;
            decoded.setHtml(w.captured(5));
            const QPointF from(w.captured(1).toDouble(), w.captured(2).toDouble()),
                to(w.captured(3).toDouble(), w.captured(4).toDouble());
            out.words.push_back({static_cast<int>(out.pages.size()) - 1, {from, to}, decoded.toPlainText()});
        }
    }
    return out;
}

/// Words outside their page, over another word, or too small to read; each told.
QStringList faults(const PdfPages& read) {
    QStringList out;
    for (std::size_t i = 0; i < read.words.size(); ++i) {
        const PdfWord& w = read.words[i];
        if (!QRectF({}, read.pages[static_cast<std::size_t>(w.page)]).contains(w.at))
            out << "cut: " + w.text + " on page " + QString::number(w.page + 1);
        if (w.at.height() < 5) out << "too small: " + w.text; // points
        for (std::size_t k = i + 1; k < read.words.size() && read.words[k].page == w.page; ++k) {
            const QRectF both = w.at & read.words[k].at;
            // Boxes reach from ascent to descent: lines of one paragraph touch.
            if (both.width() > 1 && both.height() > 0.45 * std::min(w.at.height(), read.words[k].at.height()))
                out << "covered: " + w.text + " by " + read.words[k].text;
        }
    }
    return out;
}

/// The words of a page in HTML that the PDF does not hold.
QStringList missing(const QString& html, const PdfPages& read) {
    QTextDocument page;
    page.setHtml(html);
    QString told;
    for (const PdfWord& w : read.words) told += w.text;    // a word may be parted where a line ends
    told = told.normalized(QString::NormalizationForm_KC); // letters that were drawn together
    QStringList out;
    for (const QString& word : page.toPlainText().split(QRegularExpression("[\\s\\x{fffc}]+"), Qt::SkipEmptyParts))
        if (!told.contains(word.normalized(QString::NormalizationForm_KC))) out << word;
    return out;
}

void story_of(Bench& bench) { bench.window.show_station("Book"); }
} // namespace

TEST_CASE("every paper is read back by another program and holds no cut, covered or lost word, in metric and inches") {
    Bench bench;
    story_of(bench);
    auto* station = static_cast<BookStation*>(bench.window.station("Book"));
    auto* story = station->findChild<StoryView*>();
    bench.document().edit("fasteners", {}, [](job::Job& j) {
        edit::put_torque(j, {"front clamps", "workshop book, page 7", 45, 0.4, 0.05, 0, "17 mm", 4});
    });
    QImage photo(900, 600, QImage::Format_RGB32);
    photo.fill(Qt::darkGreen);
    const QString picture = bench.folder.filePath("it's the <eye>.png");
    REQUIRE(photo.save(picture));
    const std::string name = bench.document().attach(picture.toStdString());
    bench.document().edit("picture", {}, [&](job::Job& j) { edit::attach(j, 0, {name, "the worn eye"}); });
    for (std::size_t i = 0; i < story->moments().size(); ++i)
        if (story->moments()[i].test == 2) story->choose(i);
    for (const units::System system : {units::System::Metric, units::System::Inch}) {
        bench.document().set_units(system);
        const job::Job& job = bench.job();
        const auto at = [&](const char* file) { return bench.folder.filePath(file); };
        const auto sound = [&](const QString& pdf, const QString& html) {
            const PdfPages read = read_back(pdf);
            CHECK(read.words.size() > 20);
            CHECK(faults(read).join("; ").toStdString() == "");
            if (!html.isEmpty()) CHECK(missing(html, read).join(" ").toStdString() == "");
        };
        for (const auto of : {say::ReportOf::Job, say::ReportOf::Test, say::ReportOf::Bar, say::ReportOf::Rules}) {
            CAPTURE(static_cast<int>(of), static_cast<int>(system));
            station->papers()->report_to(at("r.pdf"), of);
            sound(at("r.pdf"),
                  qs(say::report(job, of, 2, story->today().toStdString(), system, say::usual_template())));
        }
        const auto sheet = say::job_sheet(job, job.fitted, job.trial, system);
        {
            QPdfWriter pdf(at("s.pdf"));
            put_job_sheet(pdf, job, sheet, system, {"stands"});
        }
        sound(at("s.pdf"), qs(say::job_sheet_html(job, sheet, system, {"stands"})));
        for (const job::PlannedTest& t : job.tests.read()) {
            {
                QPdfWriter pdf(at("t.pdf"));
                put_test_sheet(pdf, job, t, system);
            }
            CAPTURE(t.name);
            sound(at("t.pdf"), qs(say::test_sheet(job, t, system)));
        }
        station->papers()->bar_to(at("b.pdf"), End::Front);
        sound(at("b.pdf"), {});
        for (const End end : both_ends) {
            station->papers()->link_to(at("l.pdf"), end, 0.02);
            sound(at("l.pdf"), {});
        }
    }
    // Drawings are lines and letters; the photograph is the one image.
    station->papers()->report_to(bench.folder.filePath("job.pdf"), say::ReportOf::Job);
    QFile file(bench.folder.filePath("job.pdf"));
    REQUIRE(file.open(QIODevice::ReadOnly));
    const QByteArray bytes = file.readAll();
    CHECK(bytes.contains("/Subtype /Image"));
    station->papers()->report_to(bench.folder.filePath("bar.pdf"), say::ReportOf::Bar);
    QFile bars(bench.folder.filePath("bar.pdf"));
    REQUIRE(bars.open(QIODevice::ReadOnly));
    CHECK_FALSE(bars.readAll().contains("/Subtype /Image"));
    // As HTML all of it stands in the one file.
    station->papers()->report_to(bench.folder.filePath("job.html"), say::ReportOf::Job);
    QFile page(bench.folder.filePath("job.html"));
    REQUIRE(page.open(QIODevice::ReadOnly));
    const QString html = QString::fromUtf8(page.readAll());
    CHECK(html.contains("data:image/png;base64,"));
    CHECK(html.contains("data:image/svg+xml;base64,"));
    CHECK_FALSE(html.contains("src='drawing:"));
    CHECK_FALSE(html.contains("src='attached:"));
    const QString coded = html.section("data:image/svg+xml;base64,", 1).section('\'', 0, 0);
    CHECK(QByteArray::fromBase64(coded.toLatin1()).startsWith("<svg"));
    CHECK(QByteArray::fromBase64(coded.toLatin1()).trimmed().endsWith("</svg>"));
}

TEST_CASE("a stranger's photograph is decoded as one by its content, or not at all") {
    Bench bench;
    story_of(bench);
    auto* station = static_cast<BookStation*>(bench.window.station("Book"));
    QImage photo(640, 480, QImage::Format_RGB32);
    photo.fill(Qt::darkGreen);
    // A picture of this machine's own that a drawing might fetch, which no report may hold.
    const QString secret = bench.folder.filePath("secret.png");
    REQUIRE(photo.save(secret));
    const auto images = [&](const QByteArray& bytes, const char* name) {
        const QString picture = bench.folder.filePath(name);
        QFile file(picture);
        REQUIRE(file.open(QIODevice::WriteOnly));
        file.write(bytes);
        file.close();
        const job::Job before = bench.job();
        const std::string in_job = bench.document().attach(picture.toStdString());
        bench.document().edit("picture", {}, [&](job::Job& j) { edit::attach(j, 0, {in_job, "what it shows"}); });
        station->papers()->report_to(bench.folder.filePath("r.pdf"), say::ReportOf::Job);
        QFile pdf(bench.folder.filePath("r.pdf"));
        REQUIRE(pdf.open(QIODevice::ReadOnly));
        const auto count = pdf.readAll().count("/Subtype /Image");
        station->papers()->report_to(bench.folder.filePath("r.html"), say::ReportOf::Job);
        QFile html(bench.folder.filePath("r.html"));
        REQUIRE(html.open(QIODevice::ReadOnly));
        const QByteArray page = html.readAll();
        CHECK((page.count("data:image/png") + page.count("data:image/jpeg") + page.count("data:image/webp") +
               page.count("data:image/tiff")) == (store::picture_kind(bytes.toStdString()).empty() ? 0 : 1));
        CHECK(read_back(bench.folder.filePath("r.pdf")).words.size() > 100); // the rest is there
        bench.document().undo().undo();
        CHECK(bench.job() == before);
        return count;
    };
    for (const char* kind : {"png", "jpg", "webp", "tiff"}) {
        QByteArray bytes;
        QBuffer buffer(&bytes);
        buffer.open(QIODevice::WriteOnly);
        CAPTURE(kind);
        if (QImageWriter::supportedImageFormats().contains(kind)) {
            REQUIRE(photo.save(&buffer, kind));
            CHECK(images(bytes, "photo.png") >= 1); // whatever it is called
        }
    }
    const QByteArray svg =
        "<svg xmlns='http://www.w3.org/2000/svg' xmlns:xlink='http://www.w3.org/1999/xlink' width='600' "
        "height='400'><image xlink:href='file://" +
        secret.toUtf8() + "' width='600' height='400'/></svg>";
    CHECK(images(svg, "photo.png") == 0);
    CHECK(images("<?xml version='1.0'?>" + svg, "photo.jpg") == 0);
    const QString pipe = bench.folder.filePath("pipe");
    REQUIRE(::mkfifo(pipe.toUtf8().data(), 0600) == 0);
    CHECK(images(QByteArray(svg).replace(secret.toUtf8(), pipe.toUtf8()), "photo.jpeg") == 0); // and waits for nothing
    QByteArray png;
    QBuffer buffer(&png);
    buffer.open(QIODevice::WriteOnly);
    REQUIRE(photo.save(&buffer, "png"));
    CHECK(images(png.left(40), "photo.png") == 0);
    QByteArray huge = png;
    huge.replace(16, 8, QByteArray::fromHex("0000ea600000ea60")); // 60,000 x 60,000
    CHECK(images(huge, "photo.png") == 0);
    CHECK(images("BM" + QByteArray(5000, 'x'), "photo.png") == 0);
    CHECK(images("GIF89a" + QByteArray(500, '\0'), "photo.jpg") == 0);
}
