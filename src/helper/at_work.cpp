// SPDX-License-Identifier: Apache-2.0
#include "helper/at_work.h"

#include <algorithm>
#include <filesystem>
#include <new>
#include <string>
#include <system_error>

#include "base/error.h"

namespace jugendstil {
namespace {

class AskerOverExchange final : public Asker {
 public:
  explicit AskerOverExchange(Exchange& exchange) : exchange_(exchange) {}
  std::string next() override { return exchange_.receive(kMostAnswer).bytes; }
  void answer(std::string_view bytes) override { exchange_.send(static_cast<char>(Told::plain), bytes); }

 private:
  Exchange& exchange_;
};

}  // namespace

void workAndTell(HelperWork work, Exchange& exchange) {
  const auto tell = [&](Told kind, std::string_view what) { exchange.send(static_cast<char>(kind), what); };
  try {
    try {
      AskerOverExchange asker(exchange);
      work(asker);
    } catch (const SideGone&) {
      throw;
    } catch (const DiskError& e) {
      // Both parts, which its message is made of.
      const std::string whole = e.what();
      const std::size_t most = whole.size() - std::min(whole.size(), e.reason().size() + 2);
      tell(Told::disk, whole.substr(0, most) + '\0' + e.reason());
    } catch (const UsageError& e) {
      tell(Told::usage, e.what());
    } catch (const Error& e) {
      tell(Told::error, e.what());
    } catch (const std::bad_alloc&) {
      tell(Told::memory, {});
    } catch (const std::filesystem::filesystem_error& e) {
      tell(Told::disk, e.path1().string() + ": cannot be read" + '\0' + e.code().message());
    } catch (const std::system_error& e) {
      tell(Told::thread, e.code().message());
    } catch (const std::exception&) {
      tell(Told::unknown, {});
    }
  } catch (const SideGone&) {  // nobody wants it any more
  }
}

}  // namespace jugendstil
