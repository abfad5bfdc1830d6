#include "frame_words.h"

#include "length.h"

namespace rt {

std::string inWords(const FrameDoubt& d) {
  const std::string value = formatNumber(d.value, 1) + " mm",
                    other = formatNumber(d.other, 1) + " mm";
  switch (d.what) {
    case FrameDoubt::What::NoName:
      return "Give it a name, as it is called in the shop.";
    case FrameDoubt::What::NoField:
      return "Type the stitching field: what the machine sews, not the opening. It stands on the "
             "template, or trace its box with the needle.";
    case FrameDoubt::What::NoOpening:
      return "Still missing: the opening. Without it nobody sees whether the field fits in.";
    case FrameDoubt::What::NoOutside:
      return "Still missing: the outside with its clamps. 15 mm around the field are taken until "
             "then.";
    case FrameDoubt::What::FieldOverOpening:
      return "The fields need " + value + ", the opening has " + other +
             ": measure both again, or turn the field's sides round.";
    case FrameDoubt::What::OpeningOverOuter:
      return "The opening is larger than the outside: the two were exchanged.";
    case FrameDoubt::What::NotSquare:
      return "The diagonal is " + value + ", a square corner gives " + other +
             ": measure again, or the frame is bent.";
    case FrameDoubt::What::NoLap:
      return "Type how far the fields overlap in the middle: without it nothing can be joined "
             "there.";
    case FrameDoubt::What::LapTooWide:
      return "An overlap of " + value + " leaves nothing of a field of " + other + ".";
    case FrameDoubt::What::NoPositions:
      return "Type how many positions it has, 2 to " + formatNumber(d.other, 0) + ".";
    case FrameDoubt::What::NoStep:
      return "Type the way from one position to the next, or of the whole rail.";
    case FrameDoubt::What::StepsApart:
      return "Positions are " + value + " apart and the field is " + other +
             " long: between them nothing can be sewn.";
    case FrameDoubt::What::TagSize:
      return "Tags of " + value + " are none: 3 to 100 mm, within 100 mm of the cloth.";
    case FrameDoubt::What::TooLarge:
      return "No frame is " + value + " large: was it typed in mm?";
    case FrameDoubt::What::NoTags:
      return "No tags: a photo is then placed by four clicks on the frame's guide marks.";
    case FrameDoubt::What::TagOnField:
      return "Tags of " + value + " do not fit between field and outside: take smaller ones.";
  }
  return "";
}

}  // namespace rt
