#pragma once
#include "app/document.h"

#include <QDateTime>
#include <QObject>

#include <condition_variable>
#include <memory>
#include <mutex>
#include <thread>

class QLockFile;
class QTimer;

namespace dervish::app {

/// Keeps unsaved work in a file of this process's own, so that whatever ends it loses at most the last seconds. The
/// job is written every second while it changes, by a thread of its own; attachments once, since they do not change.
class Recovery : public QObject {
    Q_OBJECT

public:
    /// In `folder`; nothing is written before start().
    Recovery(Document& document, QString folder, QObject* parent = nullptr);
    ~Recovery() override;
    void start();
    void write_now(); ///< and waits for it: the session is about to end
    void forget();    ///< saved or thrown away: nothing to recover
    void flush();     ///< waits until what was handed over is written: for tests
    bool started() const { return lock_ != nullptr; }

    /// What a session that ended without saving left behind.
    struct Left {
        QString file;       ///< the job as it was
        QString of;         ///< path of the job's own file; empty: never saved
        store::Stamp stamp; ///< of that file when it was opened or saved last
        QString name;       ///< of the job
        QDateTime when;
        QStringList differs; ///< from the file as it is now, a few lines
    };
    /// Those whose session no longer runs, newest first. Damaged ones are set aside as "….damaged".
    QList<Left> left_behind() const;
    /// Its job with its attachments. Throws BadInput.
    static store::JobFile load(const Left& left);
    static void remove(const Left& left);

private:
    struct Snapshot {
        std::shared_ptr<const job::Job> job;
        std::shared_ptr<const store::Members> attachments;
        std::filesystem::path of;
        store::Stamp stamp;
    };
    void run();
    void write(const Snapshot& what);
    QString own(const char* kind) const { return folder_ + "/" + name_ + kind; }

    Document& document_;
    QString folder_, name_;
    std::unique_ptr<QLockFile> lock_;
    QTimer* timer_;
    std::shared_ptr<const store::Members> written_attachments_;
    std::mutex mutex_;
    std::condition_variable news_, idle_;
    std::optional<Snapshot> waiting_;
    bool busy_ = false, ends_ = false;
    std::thread thread_;
};

} // namespace dervish::app
