#include "app/recovery.h"

#include "core/job/fields.h"

#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QLockFile>
#include <QTimer>
#include <QUuid>
#include <sstream>

namespace dervish::app {
namespace {
constexpr const char *job_kind = ".job.json", *path_kind = ".path", *attachments_kind = ".attachments.dervish",
                     *lock_kind = ".lock";

QString stem_of(const QString& file) { return file.left(file.size() - static_cast<qsizetype>(std::strlen(job_kind))); }
} // namespace

Recovery::Recovery(Document& document, QString folder, QObject* parent)
    : QObject(parent), document_(document), folder_(std::move(folder)),
      name_(QUuid::createUuid().toString(QUuid::WithoutBraces)), timer_(new QTimer(this)) {
    timer_->setSingleShot(true);
    timer_->setInterval(1000); // and not started again by the next edit: steady work is kept too
    connect(timer_, &QTimer::timeout, this, [this] {
        if (!started() || !document_.unsaved()) return;
        const std::lock_guard guard(mutex_);
        waiting_ = Snapshot{document_.job_as_it_is(), document_.attachments(), document_.path(), document_.stamp()};
        news_.notify_one();
    });
}

void Recovery::start() {
    if (started()) return;
    QDir().mkpath(folder_);
    lock_ = std::make_unique<QLockFile>(own(lock_kind));
    lock_->setStaleLockTime(0); // held as long as this process lives, however long that is
    lock_->tryLock();
    thread_ = std::thread([this] { run(); });
    const auto look = [this] {
        if (!document_.unsaved())
            forget(); // undone back to what is saved
        else if (!timer_->isActive())
            timer_->start();
    };
    connect(&document_, &Document::changed, this, look);
    connect(&document_.undo(), &QUndoStack::cleanChanged, this, look);
}

Recovery::~Recovery() {
    {
        const std::lock_guard guard(mutex_);
        ends_ = true;
        news_.notify_one();
    }
    if (thread_.joinable()) thread_.join();
}

void Recovery::run() {
    std::unique_lock guard(mutex_);
    for (;;) {
        news_.wait(guard, [&] { return ends_ || waiting_; });
        if (!waiting_) return;
        const Snapshot what = *std::exchange(waiting_, std::nullopt);
        busy_ = true;
        guard.unlock();
        write(what);
        guard.lock();
        busy_ = false;
        idle_.notify_all();
    }
}

void Recovery::write(const Snapshot& what) {
    try {
        const auto file = [this](const char* kind) { return std::filesystem::path(own(kind).toStdString()); };
        if (written_attachments_ != what.attachments && !what.attachments->empty())
            store::write_file(file(attachments_kind), store::pack(*what.attachments));
        written_attachments_ = what.attachments;
        const store::Stamp& s = what.stamp;
        std::ostringstream of;
        of.imbue(std::locale::classic());
        of << s.device << ' ' << s.inode << ' ' << s.size << ' ' << s.modified << '\n' << what.of.string();
        store::write_file(file(path_kind), of.str());
        store::write_file(file(job_kind), store::job_bytes({*what.job, {}}, true));
    } catch (const std::exception&) { // a full disk shows when the person saves
    }
}

void Recovery::flush() {
    std::unique_lock guard(mutex_);
    idle_.wait(guard, [&] { return !busy_ && !waiting_; });
}

void Recovery::write_now() {
    if (!started() || !document_.unsaved()) return;
    timer_->stop();
    flush();
    write({document_.job_as_it_is(), document_.attachments(), document_.path(), document_.stamp()});
}

void Recovery::forget() {
    if (!started()) return;
    timer_->stop();
    {
        const std::lock_guard guard(mutex_);
        waiting_.reset();
    }
    flush();
    written_attachments_ = nullptr;
    for (const char* kind : {job_kind, path_kind, attachments_kind}) QFile::remove(own(kind));
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
        const QString of = QString::fromStdString({std::istreambuf_iterator<char>(from), {}});
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
    const QString beside = stem_of(left.file) + attachments_kind;
    if (QFileInfo::exists(beside))
        out.attachments = store::unpack(store::read_file(beside.toStdString(), store::largest_file));
    return out;
}

void Recovery::remove(const Left& left) {
    for (const char* kind : {job_kind, path_kind, attachments_kind, lock_kind})
        QFile::remove(stem_of(left.file) + kind);
}

} // namespace dervish::app
