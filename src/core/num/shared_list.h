#pragma once
#include <initializer_list>
#include <memory>
#include <vector>

namespace dervish {

/// A list that copies share until one of them changes it: what is long and seldom changed is not copied with every
/// change of what it belongs to. Any call on a list that is not const makes it its own first; one that others may read
/// at the same time is copied by whoever wants to change it, never changed in place.
/// Example: Job b = a; b.tests.push_back(t); leaves a.tests as it was.
template <class T> class SharedList {
public:
    SharedList() : all_(std::make_shared<std::vector<T>>()) {}
    SharedList(std::initializer_list<T> all) : all_(std::make_shared<std::vector<T>>(all)) {}

    const std::vector<T>& read() const { return *all_; }
    std::vector<T>& change() {
        if (all_.use_count() > 1) all_ = std::make_shared<std::vector<T>>(*all_);
        return *all_;
    }

    std::size_t size() const { return all_->size(); }
    bool empty() const { return all_->empty(); }
    auto begin() const { return read().begin(); }
    auto end() const { return read().end(); }
    const T& operator[](std::size_t i) const { return read()[i]; }
    const T& at(std::size_t i) const { return read().at(i); }
    const T& front() const { return read().front(); }
    const T& back() const { return read().back(); }

    auto begin() { return change().begin(); }
    auto end() { return change().end(); }
    T& operator[](std::size_t i) { return change()[i]; }
    T& at(std::size_t i) { return change().at(i); }
    T& front() { return change().front(); }
    T& back() { return change().back(); }
    void push_back(T one) { change().push_back(std::move(one)); }
    void resize(std::size_t count) { change().resize(count); }
    void clear() { change().clear(); }
    template <class I> auto erase(I at) { return change().erase(at); }

    bool operator==(const SharedList& other) const { return all_ == other.all_ || *all_ == *other.all_; }

private:
    std::shared_ptr<std::vector<T>> all_;
};

} // namespace dervish
