// SPDX-License-Identifier: Apache-2.0
#include <gtest/gtest.h>

#include <nlohmann/json.hpp>

#include "image/picture_file.h"
#include "network/import.h"
#include "network/onnx_file.h"
#include "support/browser.h"
#include "support/program.h"
#include "support/support.h"

namespace jugendstil::cli {
namespace {

using testing_support::contentOf;
using testing_support::RunResult;
using testing_support::writeContent;

class NetworkProgram : public testing::Test {
 protected:
  NetworkProgram() {
    // A chain that says nothing of colours or roles, as if from elsewhere.
    OnnxGraph graph = graphOf(testing_support::smallChain(Pooling::maximum));
    graph.nodes.erase(graph.nodes.begin(), graph.nodes.begin() + 2);
    graph.nodes.front().inputs.front() = "image";
    graph.metadata.clear();
    writeOnnxGraph(folder / "foreign.onnx", graph);
  }

  RunResult run(const std::vector<std::string>& words) const {
    return testing_support::runProgram(words, folder.path);
  }

  static std::vector<std::string> importing(const std::vector<std::string>& more) {
    std::vector<std::string> words{"network",   "import", "foreign.onnx", "--style", "1_1,2_1,3_1",
                                   "--content", "3_2",    "-o",           "own.onnx"};
    words.insert(words.end(), more.begin(), more.end());
    return words;
  }

  void expectError(const std::vector<std::string>& words, int code, const std::string& part) const {
    testing_support::expectError(words, folder.path, code, part);
  }

  testing_support::TemporaryFolder folder;
};

TEST_F(NetworkProgram, ShowsTheShippedNetworkLayerByLayer) {
  const RunResult r = run({"network"});
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_NE(r.out.find("3.09 million in 12 layers"), std::string::npos) << r.out;
  EXPECT_NE(r.out.find("fine: style"), std::string::npos);
  const RunResult large = run({"network", "--json", "--at", "1536x1024"});
  const RunResult usual = run({"network", "--json"});
  const auto a = nlohmann::json::parse(usual.out);
  const auto b = nlohmann::json::parse(large.out);
  ASSERT_EQ(a["layers"].size(), 12U);
  EXPECT_EQ(a["layers"][3]["number"], "2_2");
  EXPECT_EQ(a["layers"][3]["band"], "small");
  EXPECT_EQ(a["layers"][3]["receptive_field"], 14);
  EXPECT_EQ(a["layers"][8]["content"], true);
  EXPECT_EQ(b["layers"][0]["products"], 4 * a["layers"][0]["products"].get<double>());
  EXPECT_GT(b["memory_bytes"].get<double>(), 3 * a["memory_bytes"].get<double>());
}

TEST_F(NetworkProgram, MakesAPage) {
  const RunResult r = run({"network", "-o", "page.html"});
  EXPECT_EQ(r.code, 0) << r.err;
  const std::string told = testing_support::inBrowser(contentOf(folder / "page.html"), R"(
    document.getElementById("told").textContent = (document.querySelectorAll("tbody tr").length + ' ' + document.querySelectorAll("tr.tapped").length);
  )",
                                                      "1280,800");
  EXPECT_NE(told.find("12 6"), std::string::npos) << told;
  expectError({"network", "-o", "page.html"}, 1, "page.html");
}

TEST_F(NetworkProgram, ImportsOneThatPaintsAndDoesItAgain) {
  const RunResult r = run(importing({"--preset", "standard"}));
  ASSERT_EQ(r.code, 0) << r.err;
  EXPECT_NE(r.out.find("own.onnx: 4 layers, style at 1_1, 2_1, 3_1, likeness at 3_2"), std::string::npos)
      << r.out;
  EXPECT_NE(run({"network", "own.onnx"}).out.find("largest of 2x2"), std::string::npos);
  writePicture(folder / "photo.png", testing_support::sample(96, 64, 1), Depth::eight);
  writePicture(folder / "reference.png", testing_support::strokes(96, 96, true), Depth::eight);
  const RunResult painted = run({"paint", "photo.png", "--after", "reference.png", "--network", "own.onnx",
                                 "--long-edge", "64", "--steps", "2", "--quiet", "-o", "a.png"});
  ASSERT_EQ(painted.code, 0) << painted.err;
  ASSERT_EQ(run({"redo", "a.recipe.toml", "-o", "b.png", "--quiet"}).code, 0);
  EXPECT_EQ(contentOf(folder / "a.png"), contentOf(folder / "b.png"));
  EXPECT_EQ(run(importing({"--preset", "standard"})).code, 1) << "what is there is not replaced unasked";
  const std::string before = contentOf(folder / "own.onnx");
  EXPECT_EQ(run(importing({"--preset", "standard", "--force"})).code, 0);
  EXPECT_EQ(contentOf(folder / "own.onnx"), before);
}

// With a head, a stride, a leak and a sum, as classifiers have them.
OnnxGraph classifier() {
  Chain chain = testing_support::smallChain(Pooling::maximum);
  chain.convolutions[1].pooling = Pooling::none;
  chain.convolutions[1].stride = 2;
  chain.convolutions[2].window = {3, 1};
  chain.convolutions[2].negativeSlope = 0.1F;
  chain.convolutions[3].plus = 2;
  OnnxGraph graph = graphOf(chain);
  OnnxNode head;
  head.op = "Flatten";
  head.inputs = {graph.outputs.back().name};
  head.outputs = {"flat"};
  graph.nodes.push_back(head);
  graph.outputs = {{"flat", {"1", "values"}}};
  graph.metadata.clear();
  return graph;
}

TEST_F(NetworkProgram, LooksIntoOneFromElsewhere) {
  writeOnnxGraph(folder / "classifier.onnx", classifier());
  const RunResult r = run({"network", "classifier.onnx"});
  ASSERT_EQ(r.code, 0) << r.err;
  for (const char* part :
       {"not chosen yet", "3x3 by steps of 2", "largest of 3x3, 3x3, below 0 times 0.1", "plus 3_1",
        "cannot take the operator Flatten", "network import classifier.onnx --style LAYERS"})
    EXPECT_NE(r.out.find(part), std::string::npos) << part << r.out;
  const auto told = nlohmann::json::parse(run({"network", "classifier.onnx", "--json"}).out);
  EXPECT_EQ(told["layers"][1]["step"], 2);
  EXPECT_EQ(told["layers"][3]["plus"], "3_1");
  EXPECT_TRUE(told["style_bands"].empty());
  writePicture(folder / "photo.png", testing_support::sample(96, 64, 1), Depth::eight);
  expectError({"paint", "photo.png", "--after", "photo.png", "--network", "classifier.onnx", "-o", "a.png"},
              1, "has to be brought into this one's form first");
}

TEST_F(NetworkProgram, OneWithSumsPaints) {
  writeOnnxGraph(folder / "foreign.onnx", classifier());
  ASSERT_EQ(run({"network", "import", "foreign.onnx", "--style", "1_1,2_1,3_1", "--content", "3_2", "-o",
                 "own.onnx"})
                .code,
            0)
      << "its first operators say what it wants of colours";
  writePicture(folder / "photo.png", testing_support::sample(96, 64, 1), Depth::eight);
  writePicture(folder / "reference.png", testing_support::strokes(96, 96, true), Depth::eight);
  const RunResult r =
      run({"paint", "photo.png", "--after", "reference.png", "--network", "own.onnx", "--long-edge", "96",
           "--steps", "2", "--style-at", "2_1,3_2", "--quiet", "-o", "a.png"});
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_EQ(readPicture(folder / "a.png").image.width, 96);
}

TEST_F(NetworkProgram, LayersAreChosenByHand) {
  writePicture(folder / "photo.png", testing_support::sample(96, 64, 1), Depth::eight);
  writePicture(folder / "reference.png", testing_support::strokes(96, 96, true), Depth::eight);
  const auto paint = [&](const std::string& name, const std::vector<std::string>& more) {
    std::vector<std::string> words{"paint",          "photo.png", "--after", "reference.png",
                                   "--long-edge",    "64",        "--steps", "3",
                                   "--brushwork=no", "--quiet",   "-o",      name};
    words.insert(words.end(), more.begin(), more.end());
    const RunResult r = run(words);
    EXPECT_EQ(r.code, 0) << r.err;
    return contentOf(folder / name);
  };
  const std::string usual = paint("usual.png", {});
  const std::string style = paint("style.png", {"--style-at", "1_1,2_2=2"});
  const std::string content = paint("content.png", {"--content-at", "3_1"});
  EXPECT_NE(style, usual);
  EXPECT_NE(content, usual);
  EXPECT_EQ(paint("own.png", {"--style-at", "fine,small,medium,broad,large", "--content-at", "4_2"}), usual)
      << "the network's own bands, named by hand";
  EXPECT_EQ(run({"redo", "style.recipe.toml", "-o", "again.png", "--quiet"}).code, 0);
  EXPECT_EQ(contentOf(folder / "again.png"), style);
  expectError({"paint", "photo.png", "--after", "reference.png", "--style-at", "9_1", "-o", "a.png"}, 2,
              "no band or layer \"9_1\"");
  expectError(
      {"paint", "photo.png", "--after", "reference.png", "--quick", "--style-at", "1_1", "-o", "a.png"}, 2,
      "--style-at goes without --quick");
  expectError({"amplify", "photo.png", "--band", "brod", "-o", "a.png"}, 2, "did you mean \"broad\"?");
  EXPECT_EQ(
      run({"amplify", "photo.png", "--band", "3_2", "--long-edge", "64", "--quiet", "-o", "a.png"}).code, 0);
}

TEST_F(NetworkProgram, DrawsWhatBandsSee) {
  writePicture(folder / "photo.png", testing_support::sample(96, 64, 1), Depth::eight);
  ASSERT_EQ(run(importing({"--preset", "plain"})).code, 0);
  for (const auto& [option, value] : {std::pair{"--photo", "photo.png"}, {"--show", "2_1"}}) {
    const std::string name = std::string(option).substr(2) + "-sheet.png";
    const RunResult r = run({"network", "own.onnx", option, value, "-o", name});
    EXPECT_EQ(r.code, 0) << r.err;
    EXPECT_GT(readPicture(folder / name).image.width, 600);
  }
  expectError({"network", "--photo", "photo.png"}, 2, "add -o sheet.png");
  expectError({"network", "--photo", "photo.png", "-o", "a.txt"}, 2, "a.txt");
  expectError({"network", "--photo", "photo.png", "--show", "fine", "-o", "a.png"}, 2, "exclude each other");
  expectError({"network", "--photo", "none.png", "-o", "a.png"}, 1, "none.png");
  expectError({"network", "--show", "nothing", "-o", "a.png"}, 2, "no band or layer");
}

TEST_F(NetworkProgram, WhatStandsInItsNotesIsNotObeyed) {
  OnnxGraph graph = graphOf(testing_support::smallChain(), {{"note\x1b[2J", "a\nb"}});
  writeOnnxGraph(folder / "odd.onnx", graph);
  const RunResult r = run({"network", "odd.onnx"});
  EXPECT_EQ(r.code, 0) << r.err;
  EXPECT_EQ(r.out.find('\x1b'), std::string::npos);
  EXPECT_NE(r.out.find("a b"), std::string::npos) << r.out;
  EXPECT_EQ(nlohmann::json::parse(run({"network", "odd.onnx", "--json"}).out)["notes"]["note\x1b[2J"],
            "a\nb");
}

TEST_F(NetworkProgram, SaysWhatIsWrong) {
  expectError(importing({"--preset", "plain", "--show", "1_1"}), 2, "import draws nothing");
  expectError(importing({}), 2, "add --preset standard, bytes or plain");
  expectError(importing({"--preset", "standart"}), 2, "standard");
  expectError(importing({"--mean", "1,2"}), 2, "--mean is red,green,blue");
  expectError(importing({"--preset", "plain", "--over", "nowhere"}), 2, "nowhere");
  expectError({"network", "import", "foreign.onnx", "-o", "own.onnx"}, 2, "--style");
  expectError({"network", "import", "foreign.onnx", "--style", "1_1", "--content", "9_9", "--preset", "plain",
               "-o", "own.onnx"},
              2, "no layer \"9_9\"");
  expectError({"network", "--style", "1_1"}, 2, "is of import");
  expectError({"network", "--at", "large"}, 2, "768x512");
  expectError({"network", "missing.onnx"}, 1, "missing.onnx");
  writeContent(folder / "note.onnx", "no network");
  expectError({"network", "note.onnx"}, 1, "is not an ONNX network");
  EXPECT_FALSE(std::filesystem::exists(folder / "own.onnx"));
}

}  // namespace
}  // namespace jugendstil::cli
