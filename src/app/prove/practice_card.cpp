#include "app/prove/practice_card.h"

#include "app/words.h"
#include "core/say/proof_words.h"

#include <QDateTime>
#include <QLabel>
#include <QPushButton>
#include <QSettings>
#include <QVBoxLayout>

namespace dervish::app {
namespace {
QLabel* card_words(const QString& name) {
    auto* out = new QLabel;
    out->setObjectName(name);
    out->setWordWrap(true);
    out->setMinimumWidth(460);
    return out;
}
} // namespace

PracticeCard::PracticeCard(Document& document, QWidget* parent)
    : QDialog(parent), document_(document), seed_(static_cast<unsigned>(QDateTime::currentMSecsSinceEpoch())),
      question_(card_words("practice question")), answer_(card_words("practice answer")),
      score_(card_words("practice score")), choices_(new QVBoxLayout) {
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("Practise"));
    auto* column = new QVBoxLayout(this);
    column->addWidget(question_);
    column->addLayout(choices_);
    column->addWidget(answer_);
    column->addWidget(score_);
    auto* next = new QPushButton(tr("Another car"));
    next->setObjectName("next practice");
    column->addWidget(next, 0, Qt::AlignLeft);
    connect(next, &QPushButton::clicked, this, &PracticeCard::ask);
    ask();
}

void PracticeCard::ask() {
    now_ = proof::practice(seed_++);
    answered_ = false;
    const say::PracticeWords words = say::words_of(now_, document_.units());
    question_->setText(qs(words.question));
    answer_->clear();
    while (QLayoutItem* item = choices_->takeAt(0)) {
        delete item->widget();
        delete item;
    }
    for (std::size_t i = 0; i < now_.choices.size(); ++i) {
        auto* button = new QPushButton(qs(now_.choices[i]));
        button->setObjectName(QString("practice %1").arg(i));
        choices_->addWidget(button);
        connect(button, &QPushButton::clicked, this, [this, i] { answer(i); });
    }
    const QSettings kept;
    score_->setText(tr("Right so far: %1 of %2")
                        .arg(kept.value("practice right", 0).toInt())
                        .arg(kept.value("practice asked", 0).toInt()));
}

void PracticeCard::answer(std::size_t choice) {
    if (answered_) return;
    answered_ = true;
    const bool right = choice == now_.answer;
    QSettings kept;
    kept.setValue("practice asked", kept.value("practice asked", 0).toInt() + 1);
    kept.setValue("practice right", kept.value("practice right", 0).toInt() + right);
    answer_->setText((right ? tr("Right. ") : tr("Not so. ")) + qs(say::words_of(now_, document_.units()).answer));
    score_->setText(tr("Right so far: %1 of %2")
                        .arg(kept.value("practice right").toInt())
                        .arg(kept.value("practice asked").toInt()));
}

} // namespace dervish::app
