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

#include <QPdfWriter>
#include <algorithm>
#include <fstream>
#include <regex>

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
