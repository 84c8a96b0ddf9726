#pragma once

namespace dervish {

/// Four numbers worked on at once, two to a register on every 64-bit processor. What a formula does to one it does to
/// each; a single number stands for four alike.
/// Example: (1 - Four{1, 2, 3, 4} / 2)[1] == 0.
class Four {
public:
    Four() = default; ///< not set
    Four(double all) : low_{all, all}, high_{all, all} {}
    Four(double a, double b, double c, double d) : low_{a, b}, high_{c, d} {}

    double operator[](int i) const { return i < 2 ? low_[i] : high_[i - 2]; }
    Four& operator+=(const Four& b) { return *this = *this + b; }
    Four& operator-=(const Four& b) { return *this = *this - b; }
    Four& operator*=(const Four& b) { return *this = *this * b; }
    Four& operator/=(const Four& b) { return *this = *this / b; }
    friend Four operator+(const Four& a, const Four& b) { return {a.low_ + b.low_, a.high_ + b.high_}; }
    friend Four operator-(const Four& a, const Four& b) { return {a.low_ - b.low_, a.high_ - b.high_}; }
    friend Four operator*(const Four& a, const Four& b) { return {a.low_ * b.low_, a.high_ * b.high_}; }
    friend Four operator/(const Four& a, const Four& b) { return {a.low_ / b.low_, a.high_ / b.high_}; }
    friend Four operator-(const Four& a) { return {-a.low_, -a.high_}; }

    /// f, double to double, of each.
    template <class F> Four each(F&& f) const { return {f(low_[0]), f(low_[1]), f(high_[0]), f(high_[1])}; }
    double sum() const { return low_[0] + low_[1] + high_[0] + high_[1]; }

private:
    using Two = double __attribute__((vector_size(16)));
    Four(Two low, Two high) : low_(low), high_(high) {}
    Two low_, high_;
};

inline Four square(const Four& x) { return x * x; }

} // namespace dervish
