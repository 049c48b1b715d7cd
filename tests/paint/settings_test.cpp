// SPDX-License-Identifier: Apache-2.0
#include "paint/settings.h"

#include <gtest/gtest.h>

#include "base/error.h"
#include "support/support.h"

namespace jugendstil {
namespace {

std::string complaint(const char* name, const char* value) {
  PaintSettings settings;
  return testing_support::complaint([&] { setPaintSetting(settings, name, value); });
}

TEST(Settings, EveryDefaultReadsBackAsItself) {
  const PaintSettings settings;
  for (const SettingInfo& info : paintSettingTable()) {
    PaintSettings copy;
    setPaintSetting(copy, info.name, paintSettingText(settings, info.name));
    EXPECT_EQ(paintSettingText(copy, info.name), paintSettingText(settings, info.name)) << info.name;
  }
}

TEST(Settings, ValuesRoundTrip) {
  const std::pair<const char*, const char*> values[] = {
      {"likeness", "30.5"},     {"stroke", "1.4"},
      {"palette", "photo"},     {"measure", "sliced"},
      {"solver", "lbfgs"},      {"emphasis", "fine=2,large=0.5"},
      {"content", "structure"}, {"start", "/a b/c.png"},
      {"steps", "10,20,30"},    {"levels", "4"},
      {"long-edge", "512"},     {"trim", "0.05"},
      {"trim", "auto"},         {"opacity", "0.8"},
      {"seed", "4294967295"},   {"snapshots", "25"},
      {"until", "good"},        {"threads", "2"},
      {"precision", "half"},    {"working-edge", "700"},
      {"brushwork", "no"},      {"style-at", "1_2=1,3_3=2"},
      {"content-at", "3_3"}};
  for (const auto& [name, value] : values) {
    PaintSettings settings;
    setPaintSetting(settings, name, value);
    EXPECT_EQ(paintSettingText(settings, name), value) << name;
  }
}

TEST(Settings, BadValuesSayWhatIsRight) {
  EXPECT_EQ(complaint("likeness", "130"), "likeness is a number from 0 to 100, not \"130\"");
  EXPECT_EQ(complaint("palette", "both"),
            "palette is reference, photo, photo-chroma, photo-lightness or photo-hue, not \"both\"");
  for (const auto& [name, value] : {std::pair{"likeness", "nan"},
                                    {"likeness", ""},
                                    {"likeness", "5x"},
                                    {"stroke", "0"},
                                    {"stroke", "-1"},
                                    {"steps", "10,"},
                                    {"steps", "0"},
                                    {"steps", "1.5"},
                                    {"levels", "9"},
                                    {"long-edge", "15"},
                                    {"working-edge", "9"},
                                    {"brushwork", "some"},
                                    {"trim", "0.5"},
                                    {"opacity", "1.1"},
                                    {"seed", "-1"},
                                    {"emphasis", "fine"},
                                    {"style-at", "1_2=x"},
                                    {"style-at", "=2"},
                                    {"emphasis", "=3"},
                                    {"emphasis", "fine=-1"},
                                    {"measure", "Gram"},
                                    {"solver", "newton"},
                                    {"memory", "lots"},
                                    {"memory", "2"},
                                    {"memory", "0.2M"},
                                    {"proof", "maybe"},
                                    {"precision", "double"},
                                    {"start", ""}}) {
    const std::string text = complaint(name, value);
    EXPECT_NE(text, "accepted") << name << "=" << value;
    EXPECT_EQ(text.find('\n'), std::string::npos);
  }
}

TEST(Settings, UnknownNamesOfferTheNearest) {
  EXPECT_EQ(complaint("likness", "3"), "there is no setting \"likness\"; did you mean \"likeness\"?");
  EXPECT_EQ(complaint("zzzzzz", "3"), "there is no setting \"zzzzzz\"");
}

}  // namespace
}  // namespace jugendstil
