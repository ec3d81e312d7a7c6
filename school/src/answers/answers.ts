import type { Chance } from '../chance.ts';

/** An answer a student would give, and the points a teacher would give it, in hundredths. */
export interface Answer {
  readonly text: string;
  readonly points: number;
}

const a = (text: string, points: number): Answer => ({ text, points: points * 100 });

/** Answers by worksheet and question: right ones, and wrong ones with a reason behind them (swapped, misread scale, back bearing). */
export const ANSWERS: Readonly<Record<string, Readonly<Record<string, readonly Answer[]>>>> = {
  'Signs and squares': {
    '1': [a('Hollin Top', 1), a('Hollin Top', 1), a('the summit', 0.5), a('Small Tarn', 0)],
    '2': [a('36 75', 2), a('36 75', 2), a('3675', 2), a('75 36', 1), a('37 75', 0)],
    '3': [a('a hut, you can sleep there', 1), a('house', 0.5), a('a hut', 1)],
    '4': [
      a(
        'Because along the corridor comes before up the stairs. If you mix them you get to another square.',
        4,
      ),
      a('So everybody does it the same way and nobody gets lost.', 3),
      a('Becase it is the rule.', 1),
      a(
        "You go along first and then up. If you don't you end up somewere else on the map, maybe in the sea.",
        4,
      ),
    ],
  },
  'Finding your way on Hollin Island': {
    '1': [a('35 76', 1), a('35 76', 1), a('3576', 1), a('76 35', 0.5), a('36 76', 0), a('35 77', 0)],
    '2': [
      a('I measured with a strip of paper and held it to the scale bar. It is about 2.9 km.', 2),
      a('2.9 km. One square is 1 km, I took the ruler and it was 5.8 cm, 1 cm is 500 m.', 2),
      a('5.8 cm', 0.5),
      a('I counted the squares 2 along and 1 up so 3 km', 1),
      a('2.5 + 1.5 = 4 km because you go along and then up', 0.5),
      a('290 m. I measured from the middle of the dot to the hut.', 1),
    ],
    '3': [a('056°', 1), a('56 degrees', 1), a('236°', 0), a('north east', 0.5), a('58°', 1), a('34°', 0)],
    '4': [
      a('The top is about 190 m and the sea is 0 m so I climb 190 m.', 2),
      a('I counted the lines, 9 lines times 20 m = 180 m', 1.5),
      a('9 m because there are 9 lines', 0),
      a('200', 1),
    ],
    '5': [
      a(
        "I don't agree because the lines are not so close on the south side but it is longer. On the north side the lines are very close together so its steep. From the south you walk more but it is easyer for your legs, so he is right about easy and not about quick.",
        4,
      ),
      a(
        'I agree. On the south the contour lines are far apart and that means the ground rises slowly. On the north they are close together so it is steep there.',
        4,
      ),
      a('Yes becase the hill is not so high there.', 1),
      a(
        'I think the walker is right. If you look at the contour lines in the south there is a lot of white between them. Close lines mean steep. My granddad says you should always look where the lines are before you decide.',
        3.5,
      ),
      a(
        'No, its not easy becase you have to go up and down again. You could walk round the coast were there is only one line to cross.',
        3,
      ),
      a('The lines tell you how high it is. There are many lines. So it is hard.', 1.5),
      a(
        'Yes and no. From the south the lines are wide apart until about 120 m, there it is easy. Then they come close together near the top, so the last bit is steep from every side.',
        4,
      ),
      a('I agree because I would go that way to.', 0),
    ],
    '+': [
      a('From Fennel Point 32 75 I go along the south coast to 34 74, then to 36 74 and to the light.', 0),
      a('I go by boat.', 0),
      a('', 0),
      a('', 0),
      a('', 0),
    ],
  },
  'Distances on the island': {
    '1': [a('1500', 1), a('1 500', 1), a('1500', 1), a('1500.0', 1), a('150', 0), a('500', 0)],
    '2': [a('1.7', 2), a('1,7', 2), a('1.7', 2), a('1.75', 2), a('3.4', 0.5), a('17', 0), a('2', 0.5)],
    '3': [
      a('Tarn Hut', 1),
      a('tarn hut', 1),
      a('The Tarn Hut', 1),
      a('Tarn Hutt', 1),
      a('Fennel Point', 0),
      a('the lighthouse', 0),
    ],
    '4': [
      a('6 : 4 = 1.5 hours. It goes up and down and you stop to look at the map, so it is longer.', 4),
      a('One and a half hours. Longer because of the hill.', 3),
      a('1 hour 30. If it rains you are slower.', 2.5),
      a('24 hours because 6 times 4.', 0),
      a('90 minutes. On the contour lines you see it climbs 100 m and climbing takes time.', 4),
      a('About two hours.', 1),
    ],
  },
  'Weather on the island': {
    '1': [a('21', 1), a('21 mm', 1), a('17', 0)],
    '2': [
      a('On Wednesday, because there is no rain and it is the warmest day.', 2),
      a('Monday because I have time on Monday.', 0.5),
    ],
    '3': [a('', 0)],
  },
  'A walk to the lighthouse': {
    '1': [a('Tarn Hut 354 765, Skerry Light 366 750', 2), a('Tarn Hut 35 76, Skerry Light 36 75', 0.5)],
    '2': [a('Hut to tarn, 205°, 1.0 km. Tarn to light, 111°, 1.7 km.', 4)],
    '3': [a('2.7 km at 4 km an hour is 40 minutes, I climb about 50 m so 5 minutes more. 45 minutes.', 3)],
    '4': [
      a(
        'The first leg, because the lines are close together below the hut and you have to look where you put your feet.',
        3,
      ),
    ],
    '5': [
      a(
        'Stay where you are and look at your map. Take the bearing to the light and walk slowly. Tell somebody.',
        5,
      ),
    ],
  },
};

/** One answer to a question for a student of this strength, 0…1: the stronger, the more often a good one. */
export function answerOf(chance: Chance, title: string, question: string, strength: number): Answer {
  const all = ANSWERS[title]?.[question] ?? [];
  if (all.length === 0) throw new Error(`No answers to question ${question} of "${title}"`);
  const first = chance.pick(all);
  const second = chance.pick(all);
  return chance.yes(strength)
    ? first.points >= second.points
      ? first
      : second
    : first.points < second.points
      ? first
      : second;
}
