// SPDX-License-Identifier: Apache-2.0
#include "solver/lbfgs.h"

#include <gtest/gtest.h>

#include <cmath>
#include <functional>
#include <limits>

namespace jugendstil {
namespace {

using Function = std::function<double(const std::vector<float>&, std::vector<float>&)>;

// Evaluations until the value is at most `wanted`; 0 where it never is.
int evaluationsTo(Lbfgs& solver, const Function& f, double wanted, int most) {
  for (int i = 1; i <= most; ++i) {
    std::vector<float> slope(solver.point().size());
    const double value = f(solver.point(), slope);
    solver.tell(value, slope);
    if (solver.bestValue() <= wanted) return i;
  }
  return 0;
}

double rosenbrock(const std::vector<float>& x, std::vector<float>& slope) {
  const double a = static_cast<double>(x[0]);
  const double b = static_cast<double>(x[1]);
  slope[0] = static_cast<float>(-2 * (1 - a) - 400 * a * (b - a * a));
  slope[1] = static_cast<float>(200 * (b - a * a));
  return (1 - a) * (1 - a) + 100 * (b - a * a) * (b - a * a);
}

// A bowl 10,000 times steeper one way than another.
double bowl(const std::vector<float>& x, std::vector<float>& slope) {
  double sum = 0;
  for (std::size_t i = 0; i < x.size(); ++i) {
    const double k = std::pow(10.0, 4.0 * static_cast<double>(i) / static_cast<double>(x.size() - 1));
    sum += k * static_cast<double>(x[i]) * static_cast<double>(x[i]);
    slope[i] = static_cast<float>(2 * k * static_cast<double>(x[i]));
  }
  return sum;
}

TEST(Lbfgs, FindsTheEndOfTheBentValley) {
  LbfgsSettings settings;
  settings.firstLength = 0.1;
  Lbfgs solver({-1.2F, 1.0F}, settings);
  const int needed = evaluationsTo(solver, rosenbrock, 1e-8, 200);
  EXPECT_GT(needed, 0);
  EXPECT_LT(needed, 80);
  EXPECT_NEAR(solver.best()[0], 1, 1e-3);
  EXPECT_NEAR(solver.best()[1], 1, 1e-3);
}

TEST(Lbfgs, CurvatureIsWorthMoreThanSteepness) {
  const std::vector<float> start(50, 1.0F);
  LbfgsSettings settings;
  settings.firstLength = 0.05;
  Lbfgs with(start, settings);
  settings.memory = 1;
  Lbfgs without(start, settings);
  const int quick = evaluationsTo(with, bowl, 1e-3, 3000);
  const int slow = evaluationsTo(without, bowl, 1e-3, 3000);
  ASSERT_GT(quick, 0);
  EXPECT_TRUE(slow == 0 || quick < slow) << quick << " " << slow;
  EXPECT_LT(quick, 600);
}

TEST(Lbfgs, GoesDownAllTheWay) {
  Lbfgs solver(std::vector<float>(20, 1.0F), LbfgsSettings{});
  std::vector<float> slope(20);
  const double first = bowl(solver.point(), slope);
  solver.tell(first, slope);
  double last = first;
  int falls = 0;
  for (int i = 0; i < 120; ++i) {
    solver.tell(bowl(solver.point(), slope), slope);
    EXPECT_LE(solver.bestValue(), last);
    falls += solver.bestValue() < last ? 1 : 0;
    last = solver.bestValue();
  }
  EXPECT_LT(last, 1e-4 * first);
  // A good search rarely needs a second look along a line.
  EXPECT_GT(falls, 60);
}

TEST(Lbfgs, ValuesThatAreNotNumbersAreWalls) {
  // Defined only above 0; a first step of that length lands beyond.
  const auto f = [](const std::vector<float>& x, std::vector<float>& slope) {
    const double v = static_cast<double>(x[0]);
    slope[0] = static_cast<float>(1 - 1 / v);
    return v > 0 ? v - std::log(v) : std::numeric_limits<double>::quiet_NaN();
  };
  LbfgsSettings settings;
  settings.firstLength = 20;
  Lbfgs solver({5.0F}, settings);
  EXPECT_GT(evaluationsTo(solver, f, 1 + 1e-6, 100), 0);
  EXPECT_NEAR(solver.best()[0], 1, 1e-2);
}

TEST(Lbfgs, GoesOnWhereTheFunctionChanged) {
  LbfgsSettings settings;
  settings.firstLength = 0.1;
  Lbfgs solver({-1.2F, 1.0F}, settings);
  evaluationsTo(solver, rosenbrock, 1e-3, 100);
  const std::vector<float> reached = solver.best();
  solver.renew();
  EXPECT_EQ(solver.point(), reached);
  EXPECT_EQ(solver.bestValue(), std::numeric_limits<double>::infinity());
  const auto raised = [](const std::vector<float>& x, std::vector<float>& slope) {
    return 5 + rosenbrock(x, slope);
  };
  EXPECT_GT(evaluationsTo(solver, raised, 5 + 1e-8, 100), 0);
}

}  // namespace
}  // namespace jugendstil
