#pragma once
#include "app/document.h"
#include "app/latest.h"

#include <QDateTime>
#include <QObject>
#include <QSet>

#include <memory>

class QLockFile;
class QTimer;

namespace dervish::app {

/// Keeps unsaved work in files of this process's own, so that whatever ends it loses at most the last seconds. The job
/// is written every second while it changes, by a thread of its own. Photographs and other files, which are large and
/// do not change, follow by another: those in the job's own file by a second name of it (a copy where there can be
/// none), new ones once each. No job waits for them.
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
    /// Whether a session of before, in the same folder, was ended by a fault or a kill and not by a person. Told once:
    /// what tells of it is taken away.
    bool ended_badly();

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

signals:
    /// Unsaved work cannot be kept, and why; told once for each reason.
    void failed(const QString& why);

private:
    struct Snapshot {
        std::shared_ptr<const job::Job> job;
        std::shared_ptr<const store::Members> attachments;
        std::filesystem::path of;
        store::Stamp stamp;
    };
    Snapshot now() const {
        return {document_.job_as_it_is(), document_.attachments(), document_.path(), document_.stamp()};
    }
    void write(const Snapshot& what);
    void write_attachments(const Snapshot& what);
    void tell(const QString& why);
    QString own(const char* kind) const { return folder_ + "/" + name_ + kind; }

    Document& document_;
    QString folder_, name_;
    std::unique_ptr<QLockFile> lock_;
    QTimer* timer_;
    std::shared_ptr<const store::Members> given_attachments_; ///< to the other thread
    QSet<QString> told_;
    std::unique_ptr<Latest<Snapshot>> attachments_writer_, writer_; ///< last: they end before what they use
};

} // namespace dervish::app
