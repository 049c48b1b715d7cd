// SPDX-License-Identifier: Apache-2.0
#include "image/packed_spec.h"

#include <string>
#include <vector>

#include "base/error.h"

namespace jugendstil {
namespace {

using Type = OIIO::TypeDesc;

constexpr int kMostChannels = 1024;

bool isPlain(const Type& type) {
  return type.basetype >= Type::UCHAR && type.basetype <= Type::DOUBLE && type.arraylen >= 0 &&
         (type.aggregate == Type::SCALAR || type.aggregate == Type::VEC2 || type.aggregate == Type::VEC3 ||
          type.aggregate == Type::VEC4 || type.aggregate == Type::MATRIX33 ||
          type.aggregate == Type::MATRIX44);
}

void pack(Packer& to, const Type& type) {
  to.value(type.basetype);
  to.value(type.aggregate);
  to.value(type.vecsemantics);
  to.value(type.arraylen);
}

Type unpackedType(Unpacker& from) {
  Type type;
  type.basetype = from.value<decltype(type.basetype)>();
  type.aggregate = from.value<decltype(type.aggregate)>();
  type.vecsemantics = from.value<decltype(type.vecsemantics)>();
  type.arraylen = from.value<decltype(type.arraylen)>();
  return type;
}

void pack(Packer& to, const OIIO::ParamValue& value) {
  to.text(value.name().string());
  pack(to, value.type());
  if (value.type() == Type::STRING) {
    to.text(value.get_string());
  } else {
    to.text({static_cast<const char*>(value.data()), static_cast<std::size_t>(value.datasize())});
  }
}

bool travels(const OIIO::ParamValue& value) {
  return value.nvalues() == 1 && (value.type() == Type::STRING || isPlain(value.type()));
}

}  // namespace

void pack(Packer& to, const OIIO::ImageSpec& spec) {
  to.value(spec.width);
  to.value(spec.height);
  to.value(spec.nchannels);
  pack(to, spec.format);
  std::uint64_t count = 0;
  for (const OIIO::ParamValue& value : spec.extra_attribs) count += travels(value) ? 1 : 0;
  to.value(count);
  for (const OIIO::ParamValue& value : spec.extra_attribs) {
    if (travels(value)) pack(to, value);
  }
}

OIIO::ImageSpec unpackedSpec(Unpacker& from) {
  const auto width = from.value<int>();
  const auto height = from.value<int>();
  const auto channels = from.value<int>();
  const Type format = unpackedType(from);
  const bool sane = width > 0 && height > 0 && channels > 0 && channels <= kMostChannels && isPlain(format) &&
                    format.aggregate == Type::SCALAR && format.arraylen == 0;
  if (!sane) throw Error("a message about a picture is not one");
  OIIO::ImageSpec spec(width, height, channels, format);
  const auto count = from.value<std::uint64_t>();
  for (std::uint64_t i = 0; i < count; ++i) {
    const std::string name = from.text();
    const Type type = unpackedType(from);
    const std::string data = from.text();
    if (type == Type::STRING) {
      spec.attribute(name, data);
    } else if (isPlain(type) && type.size() == data.size()) {
      spec.attribute(name, type, data.data());
    }
  }
  return spec;
}

}  // namespace jugendstil
