#include "core/num/band.h"

#include <boost/math/distributions/chi_squared.hpp>
#include <boost/math/distributions/normal.hpp>
#include <boost/math/distributions/students_t.hpp>

namespace dervish {

double student_90(double freedom) { return boost::math::quantile(boost::math::students_t(freedom), 0.95); }

double chance_of_chi(double chi_squared, double freedom) {
    if (!(chi_squared < 1e6)) return 0;
    return boost::math::cdf(boost::math::complement(boost::math::chi_squared(freedom), chi_squared));
}

double normal_below(double z) { return boost::math::cdf(boost::math::normal(), z); }

} // namespace dervish
