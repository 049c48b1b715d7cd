// SPDX-License-Identifier: Apache-2.0
#include "base/utf8.h"

#include <gtest/gtest.h>

namespace jugendstil {
namespace {

TEST(Utf8, PlainNamesStayAsTheyAre) {
  for (const char* name : {"", "a.png", "Müller/Früh.jpg", "日本.png", "🌷.tif"})
    EXPECT_EQ(utf8Of(name), name);
}

TEST(Utf8, EveryNameComesBack) {
  // All pairs of bytes, between letters: broken, cut short, over-long, surrogates, beyond the last character.
  for (int a = 1; a < 256; ++a) {
    for (int b = 1; b < 256; ++b) {
      const std::string name{'x', static_cast<char>(a), static_cast<char>(b), 'y'};
      const std::string text = utf8Of(name);
      EXPECT_TRUE(isUtf8(text)) << a << " " << b;
      EXPECT_EQ(nameOfUtf8(text).native(), name) << a << " " << b;
    }
  }
  for (const char* name : {"\xED\xA0\x80", "\xF0\x80\x80\x80", "\xF4\x90\x80\x80", "\xE0\x80\x80",
                           "\xF4\x8F\xBF\xBF", "\xF4\x8F\xBE\x80", "\xF4\x8F\xBD\xBF", "\xC3"}) {
    EXPECT_TRUE(isUtf8(utf8Of(name))) << name;
    EXPECT_EQ(nameOfUtf8(utf8Of(name)).native(), name);
  }
}

TEST(Utf8, KnowsWhatIsNone) {
  EXPECT_TRUE(isUtf8("Früh"));
  for (const char* text : {"Fr\xFCh", "\xC0\x80", "\xED\xA0\x80", "\xF5\x80\x80\x80", "\xE3\x81"})
    EXPECT_FALSE(isUtf8(text)) << text;
}

}  // namespace
}  // namespace jugendstil
