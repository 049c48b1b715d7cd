// SPDX-License-Identifier: Apache-2.0
#include "base/base64.h"

#include <gtest/gtest.h>

#include <random>

#include "support/support.h"

namespace jugendstil {
namespace {

using testing_support::refusal;

// The examples of RFC 4648.
TEST(Base64, IsAsTheStandardHasIt) {
  const std::pair<std::string, std::string> examples[] = {{"", ""},
                                                          {"f", "Zg=="},
                                                          {"fo", "Zm8="},
                                                          {"foo", "Zm9v"},
                                                          {"foob", "Zm9vYg=="},
                                                          {"fooba", "Zm9vYmE="},
                                                          {"foobar", "Zm9vYmFy"}};
  for (const auto& [bytes, text] : examples) {
    EXPECT_EQ(base64Of(bytes), text);
    EXPECT_EQ(bytesOfBase64(text), bytes);
  }
}

TEST(Base64, AnyBytesComeBack) {
  std::mt19937 random(1);
  for (std::size_t length = 0; length < 70; ++length) {
    std::string bytes;
    for (std::size_t i = 0; i < length; ++i) bytes += static_cast<char>(random());
    EXPECT_EQ(bytesOfBase64(base64Of(bytes)), bytes);
  }
}

TEST(Base64, OtherTextIsRefused) {
  EXPECT_EQ(refusal([] { bytesOfBase64("Zm9"); }), "text that should be base64 is cut short");
  for (const char* text : {"Zm9-", "Z===", "Zg=a", "Zg==Zg==", "===="})
    EXPECT_EQ(refusal([&] { bytesOfBase64(text); }), "text that should be base64 has other letters in it")
        << text;
}

}  // namespace
}  // namespace jugendstil
