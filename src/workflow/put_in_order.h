#pragma once

#include <algorithm>
#include <vector>

namespace bq::inline workflow {

/// Adds a card to a list that is sorted by name, or replaces the one of its name.
template <class Card>
void put_in_order(std::vector<Card>& cards, const Card& card) {
  const auto place = std::lower_bound(cards.begin(), cards.end(), card,
                                      [](const Card& a, const Card& b) { return a.name < b.name; });
  if (place != cards.end() && place->name == card.name)
    *place = card;
  else
    cards.insert(place, card);
}

}  // namespace bq::inline workflow
