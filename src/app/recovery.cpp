#include "app/recovery.h"

#include "app/window_thread.h"
#include "app/words.h"
#include "core/job/fields.h"

#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QLockFile>
#include <QPointer>
#include <QTimer>
#include <QUuid>
#include <sstream>

namespace dervish::app {
namespace {
constexpr const char *job_kind = ".job.json", *path_kind = ".path", *attachments_kind = ".attachments.dervish",
                     *linked_kind = ".linked.dervish", *lock_kind = ".lock";

QString stem_of(const QString& file) { return file.left(file.size() - static_cast<qsizetype>(std::strlen(job_kind))); }
} // namespace

Recovery::Recovery(Document& document, QString folder, QObject* parent)
    : QObject(parent), document_(document), folder_(std::move(folder)),
      name_(QUuid::createUuid().toString(QUuid::WithoutBraces)), timer_(new QTimer(this)) {
    timer_->setSingleShot(true);
    timer_->setInterval(1000); // and not started again by the next edit: steady work is kept too
    connect(timer_, &QTimer::timeout, this, [this] {
        if (!started() || !document_.unsaved()) return;
        const Snapshot what = now();
        writer_->give(what);
        if (std::exchange(given_attachments_, what.attachments) != what.attachments) attachments_writer_->give(what);
    });
}

void Recovery::start() {
    if (started()) return;
    const bool made = QDir().mkpath(folder_);
    lock_ = std::make_unique<QLockFile>(own(lock_kind));
    lock_->setStaleLockTime(0); // held as long as this process lives, however long that is
    lock_->tryLock(0);
    writer_ = std::make_unique<Latest<Snapshot>>([this](const Snapshot& what) { write(what); });
    attachments_writer_ = std::make_unique<Latest<Snapshot>>([this](const Snapshot& what) { write_attachments(what); });
    if (!made) tell(tr("The folder %1 cannot be made.").arg(folder_));
    const auto look = [this] {
        if (!document_.unsaved())
            forget(); // undone back to what is saved
        else if (!timer_->isActive())
            timer_->start();
    };
    connect(&document_, &Document::changed, this, look);
    connect(&document_.undo(), &QUndoStack::cleanChanged, this, look);
}

Recovery::~Recovery() = default;

void Recovery::tell(const QString& why) {
    run_on_window_thread([guarded = QPointer<Recovery>(this), why] {
        if (!guarded || guarded->told_.contains(why)) return;
        guarded->told_.insert(why);
        emit guarded->failed(why);
    });
}

void Recovery::write(const Snapshot& what) {
    try {
        const auto file = [this](const char* kind) { return std::filesystem::path(own(kind).toStdString()); };
        const store::Stamp& s = what.stamp;
        std::ostringstream of;
        of.imbue(std::locale::classic());
        of << s.device << ' ' << s.inode << ' ' << s.size << ' ' << s.modified << '\n' << what.of.string();
        store::write_file(file(path_kind), of.str());
        store::write_file(file(job_kind), store::job_bytes({*what.job, {}}, true));
    } catch (const std::exception& e) {
        tell(qs(e.what()));
    }
}

void Recovery::write_attachments(const Snapshot& what) {
    try {
        store::Members own_ones;
        const std::string linked = own(linked_kind).toStdString();
        for (const auto& [name, member] : *what.attachments) {
            if (!member.content.in_memory()) {
                const store::OpenFile& file = *member.content.place().file;
                if (!file.is(linked)) {
                    std::error_code error;
                    std::filesystem::remove(linked, error);
                    if (file.is(what.of)) std::filesystem::create_hard_link(what.of, linked, error);
                }
                if (file.is(linked)) continue;
            }
            own_ones.insert({name, member});
        }
        if (!own_ones.empty()) store::write_archive(own(attachments_kind).toStdString(), own_ones);
    } catch (const std::exception& e) {
        tell(qs(e.what()));
    }
}

bool Recovery::ended_badly() {
    bool out = false;
    for (const QFileInfo& info : QDir(folder_).entryInfoList({QString("*") + lock_kind}, QDir::Files)) {
        if (info.absoluteFilePath() == QFileInfo(own(lock_kind)).absoluteFilePath()) continue;
        QLockFile lock(info.absoluteFilePath());
        out = lock.tryLock(0) || out; // one that is held is of a session that runs
    }
    return out;
}

void Recovery::flush() {
    if (!started()) return;
    writer_->finish();
    attachments_writer_->finish();
}

void Recovery::write_now() {
    if (!started() || !document_.unsaved()) return;
    timer_->stop();
    writer_->give(now());
    attachments_writer_->give(now());
    flush();
}

void Recovery::forget() {
    if (!started()) return;
    timer_->stop();
    writer_->take_back();
    attachments_writer_->take_back();
    given_attachments_ = nullptr;
    for (const char* kind : {job_kind, path_kind, attachments_kind, linked_kind}) QFile::remove(own(kind));
}

QList<Recovery::Left> Recovery::left_behind() const {
    QList<Left> out;
    for (const QFileInfo& info : QDir(folder_).entryInfoList({QString("*") + job_kind}, QDir::Files, QDir::Time)) {
        const QString file = info.absoluteFilePath();
        if (file == QFileInfo(own(job_kind)).absoluteFilePath()) continue;
        QLockFile lock(stem_of(file) + lock_kind);
        if (!lock.tryLock(0)) continue; // its session runs
        QFile path(stem_of(file) + path_kind);
        std::istringstream from(path.open(QIODevice::ReadOnly) ? path.readAll().toStdString() : std::string());
        from.imbue(std::locale::classic());
        store::Stamp stamp;
        from >> stamp.device >> stamp.inode >> stamp.size >> stamp.modified;
        from.ignore();
        QString of = QString::fromStdString({std::istreambuf_iterator<char>(from), {}});
        if (QFileInfo(of).isRelative()) of.clear(); // of an earlier version: nobody knows where that was
        Left left{file, of, stamp, {}, info.lastModified(), {}};
        try {
            const job::Job job = store::load(file.toStdString()).job;
            left.name = QString::fromStdString(job.name);
            job::Job before = job::blank();
            if (!of.isEmpty() && QFileInfo::exists(of)) before = store::load(of.toStdString()).job;
            for (const std::string& line : job::differences(before, job, units::System::Metric))
                left.differs << QString::fromStdString(line);
        } catch (const BadInput&) {
            if (left.name.isEmpty()) {
                QFile::rename(file, file + ".damaged");
                continue;
            }
        }
        out << left;
    }
    return out;
}

store::JobFile Recovery::load(const Left& left) {
    store::JobFile out = store::load(left.file.toStdString());
    for (const QString& file : {stem_of(left.file) + attachments_kind, stem_of(left.file) + linked_kind, left.of})
        if (QFileInfo::exists(file)) {
            try {
                for (const auto& [name, member] : store::open_archive(file.toStdString()))
                    if (name != "job.json") out.attachments.insert({name, member});
            } catch (const BadInput&) { // the job is worth more than a photograph
            }
        }
    return out;
}

void Recovery::remove(const Left& left) {
    for (const char* kind : {job_kind, path_kind, attachments_kind, linked_kind, lock_kind})
        QFile::remove(stem_of(left.file) + kind);
}

} // namespace dervish::app
