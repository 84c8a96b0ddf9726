#pragma once
#include <QPaintEngine>
#include <QWidget>

#include <vector>

/// What is painted, read back as words and places.
namespace dervish::app {

struct Word {
    QString text;
    QRectF box;
};

class Paper : public QPaintDevice {
public:
    Paper(QSize size, std::vector<Word>& words) : size_(size), pen_(words) {}
    QPaintEngine* paintEngine() const override { return &pen_; }

protected:
    int metric(PaintDeviceMetric m) const override {
        switch (m) {
        case PdmWidth:
            return size_.width();
        case PdmHeight:
            return size_.height();
        case PdmDepth:
            return 32;
        case PdmDevicePixelRatio:
            return 1;
        case PdmDevicePixelRatioScaled:
            return static_cast<int>(devicePixelRatioFScale());
        default:
            return 96;
        }
    }

private:
    class Pen : public QPaintEngine {
    public:
        explicit Pen(std::vector<Word>& words) : QPaintEngine(AllFeatures), words_(words) {}
        bool begin(QPaintDevice*) override { return true; }
        bool end() override { return true; }
        void updateState(const QPaintEngineState& s) override {
            if (s.state() & DirtyTransform) transform_ = s.transform();
        }
        void drawPixmap(const QRectF&, const QPixmap&, const QRectF&) override {}
        void drawPath(const QPainterPath&) override {}
        void drawPolygon(const QPointF*, int, PolygonDrawMode) override {}
        void drawTextItem(const QPointF& at, const QTextItem& item) override {
            // From the baseline up to the top of capitals: what must not be covered.
            const QRectF box(at.x(), at.y() - item.ascent() * 0.72, item.width(), item.ascent() * 0.72);
            words_.push_back({item.text(), transform_.mapRect(box)});
        }
        Type type() const override { return User; }

    private:
        std::vector<Word>& words_;
        QTransform transform_;
    };
    QSize size_;
    mutable Pen pen_;
};

struct Ink {
    QSize size;
    std::vector<Word> words;

    static Ink of(QWidget& widget) {
        Ink ink{widget.size(), {}};
        Paper paper(widget.size(), ink.words);
        widget.render(&paper, {}, {}, {}); // itself, without its children
        return ink;
    }
    bool says(const QString& part) const {
        for (const Word& w : words)
            if (w.text.contains(part)) return true;
        return false;
    }
    /// Words that stick out of the paper, and pairs that lie over each other, as sentences.
    QStringList faults() const {
        QStringList out;
        const QRectF paper = QRectF({0, 0}, size).adjusted(-1, -1, 1, 1);
        for (std::size_t i = 0; i < words.size(); ++i) {
            if (!paper.contains(words[i].box)) out << "cut: " + words[i].text;
            for (std::size_t j = 0; j < i; ++j) {
                const QRectF both = words[i].box & words[j].box;
                if (both.width() > 2 && both.height() > 1) out << words[j].text + " over " + words[i].text;
            }
        }
        return out;
    }
};

} // namespace dervish::app
