import type { Folder } from '../src/core/library/folder';

/**
 * What is said and what is written in the demo notes: a harbour pilots' school, its people invented.
 * A phrase is spoken; `write` is put down some seconds after it has begun, as people do; `draw` likewise.
 */
export type Voice = 'lecturer' | 'student' | 'pilot' | 'chair' | 'treasurer' | 'boatman';

export interface Phrase {
  readonly say?: string;
  readonly voice?: Voice;
  /** Silence after it, seconds (1.2 when not given). */
  readonly rest?: number;
  /** Lines of writing; `-` before a line indents it, `*` writes it in red, `+` in green. */
  readonly write?: readonly string[];
  readonly draw?: 'tide curve' | 'underline' | 'buoys' | 'tent plan';
  /** The recording is paused here for so many seconds of the day; what is written then has no sound. */
  readonly pause?: number;
  /** Seconds from the start of the phrase to the pen; chosen at random between 1.5 and 4 when not given. */
  readonly lag?: number;
}

export interface DemoNote {
  readonly id: string;
  readonly title: string;
  /** The folder it lies in. */
  readonly folder: Pick<Folder, 'id' | 'name' | 'color' | 'emblem'>;
  /** Wall clock at the start. */
  readonly at: string;
  readonly hand: 'flowing' | 'narrow' | 'upright';
  readonly seed: number;
  readonly phrases: readonly Phrase[];
}

const tides: DemoNote = {
  id: 'demo-tides-0000000001',
  title: 'Tides and the rule of twelfths',
  folder: { id: 'demo-lectures', name: 'Lectures', color: 'navy', emblem: 'wave' },
  at: '2026-11-23T09:15:00Z',
  hand: 'flowing',
  seed: 11,
  phrases: [
    { voice: 'lecturer', say: 'Good morning. Today we talk about tides, and about a rule you can use without any table at all: the rule of twelfths.', write: ['*Tides - rule of twelfths'], draw: 'underline', lag: 4 },
    { voice: 'lecturer', say: 'A tide is the rise and fall of the sea. The moon pulls the water, the sun helps or hinders, and the shape of our bay does the rest.', write: ['moon pulls, sun helps or hinders', '- shape of the bay!'] },
    { voice: 'lecturer', say: 'When sun and moon pull in one line we have springs: the high waters are higher and the low waters lower. A week later they pull across each other, and we have neaps.', rest: 1, write: ['+springs: sun + moon in line', '+neaps: across, a week later'] },
    { voice: 'lecturer', say: 'High water to low water takes a little over six hours. The difference in height between the two is called the range.', rest: 0.9, write: ['HW to LW: 6 h and a bit', 'range = HW height - LW height'] },
    { voice: 'lecturer', say: 'Now, the water does not rise at an even pace. It starts slowly, runs fastest in the middle, and slows down again before it turns.', write: ['not even: slow, fast, slow'] },
    { voice: 'lecturer', say: 'So we divide the range into twelve parts. In the first hour the water rises by one twelfth. In the second hour by two twelfths. In the third by three.', write: ['divide range by 12', '+1  2  3  3  2  1'], lag: 3 },
    { voice: 'lecturer', say: 'In the fourth hour by three again, then two, and one twelfth in the last hour. One, two, three, three, two, one. Say it until you dream of it.', rest: 1.2 },
    { voice: 'lecturer', say: 'Let me draw it. Time runs along the bottom, height goes up the side, and the curve looks like a lazy letter S.', draw: 'tide curve', lag: 3.5, rest: 6 },
    { voice: 'lecturer', say: 'You see that half of the whole range comes in the two middle hours. That is when the stream runs hardest, and that is when you do not want to be abeam of the pier head.', write: ['half the range in hours 3 + 4', '- strongest stream then'] },
    { voice: 'lecturer', say: 'I knew a trainee once who trusted his eyes at the second hour. The mud bank was well covered, he thought. Twenty minutes later he had all the time in the world to count seagulls. They were still telling that story when I retired the boat. Nobody laughed at the dinner, of course, but the seagulls, I believe, did.', rest: 1.4 },
    { voice: 'lecturer', say: 'What you should take from that is simple. Look at the clock before you look at the water. The water always looks the same until it is too late.', rest: 1, write: ['look at the clock first,', 'then at the water'] },
    { voice: 'student', say: 'Does the rule work everywhere?', rest: 0.6 },
    { voice: 'lecturer', say: 'No. It works where the tide is regular. Inside a long estuary, or where there are double high waters, take the curve from the almanac instead.', write: ['*not in estuaries / double HW', '- use the curve from the almanac'] },
    { voice: 'lecturer', say: 'We take ten minutes. Please have a pencil ready when we come back.', rest: 0.5 },
    { pause: 600, write: ['ask: neaps too?'], lag: 20 },
    { voice: 'lecturer', say: 'Right. An example. Low water is at six o clock with one point two metres. High water is at twelve with four point eight. What is the range?', write: ['LW 06:00  1.2 m', 'HW 12:00  4.8 m'] },
    { voice: 'student', say: 'Three point six metres.', rest: 0.5, write: ['range 3.6 m, 1/12 = 0.3 m'], lag: 2.2 },
    { voice: 'lecturer', say: 'Three point six. One twelfth of that is thirty centimetres. Now I want the height at nine o clock. That is three hours after low water.', rest: 1 },
    { voice: 'lecturer', say: 'One and two and three makes six twelfths. Six times thirty centimetres is one metre eighty. Add the height of low water, and you have three metres exactly.', write: ['09:00: 6/12 x 3.6 = 1.8', '+1.8 + 1.2 = 3.0 m'] },
    { voice: 'lecturer', say: 'Try it the other way round. When will there be two metres ten? You need ninety centimetres above low water, that is three twelfths. One after the first hour, two more after the second. So at eight o clock.', rest: 1.6, write: ['2.1 m? 0.9 = 3/12', '+08:00'] },
    { voice: 'lecturer', say: 'Your boat draws two metres ten, and you want half a metre under the keel. So from when on may you cross the bar, if the chart shows a drying height of zero?', rest: 1.5, write: ['draught 2.1 + 0.5 under keel'] },
    { voice: 'lecturer', say: 'That is homework. And please, do not forget that a strong wind or a low barometer can shift the whole curve by half a metre. The rule gives you a good guess. The sea gives the answer.', write: ['*homework: when over the bar?', 'wind / low pressure: +- 0.5 m'], lag: 3.5 },
    { voice: 'lecturer', say: 'Next week we do buoyage. Bring the red and the green pencil.', rest: 3, write: ['next week: buoyage'] },
  ],
};

const pilot: DemoNote = {
  id: 'demo-pilot-0000000002',
  title: 'Interview: Aldous Fenwick, retired pilot',
  folder: { id: 'demo-interviews', name: 'Interviews', color: 'teal', emblem: 'lamp' },
  at: '2026-11-20T14:02:00Z',
  hand: 'narrow',
  seed: 22,
  phrases: [
    { voice: 'student', say: 'Mister Fenwick, how did you become a pilot?', write: ['*A. Fenwick, pilot 41 years'], lag: 1.5 },
    { voice: 'pilot', say: 'By rowing. My uncle had the mail boat, and when I was fourteen he broke his wrist. So I rowed the mail out to the ships, in all weathers, for one winter.', write: ['rowed the mail boat at 14', '- uncle broke his wrist'] },
    { voice: 'pilot', say: 'After that the harbour master said I might as well be paid for it.', rest: 1 },
    { voice: 'student', say: 'What was the hardest night?', rest: 0.8, write: ['hardest night?'], lag: 0.8 },
    { voice: 'pilot', say: 'The fog of the second of March. You could not see your own bow lamp. I brought in a timber ship by the bell at the mole and by the smell of the smokehouse.', write: ['+fog of 2 March', 'timber ship by bell + smell', 'of the smokehouse'] },
    { voice: 'pilot', say: 'You laugh. But a nose is a good instrument. It needs no battery.', rest: 1.5 },
    { voice: 'student', say: 'And the buoys? Were they the same as today?', draw: 'buoys', lag: 3, rest: 0.6 },
    { voice: 'pilot', say: 'Red cans to port, green cones to starboard, coming in. That has not changed in my time. What has changed is the light. In my day we counted the flashes aloud, both of us, so that two people agreed.', write: ['count the flashes aloud,', 'two people must agree'], rest: 2 },
    { voice: 'student', say: 'What should our trainees learn first?', rest: 0.7 },
    { voice: 'pilot', say: 'To say I do not know. A pilot who never says it will say it to the lifeboat.', write: ['*learn first: to say', '*I do not know'], rest: 2.5 },
  ],
};

const openDay: DemoNote = {
  id: 'demo-openday-00000003',
  title: 'Open day committee, second meeting',
  folder: { id: 'demo-openday', name: 'Open day', color: 'amber', emblem: 'flag' },
  at: '2026-11-18T17:30:00Z',
  hand: 'upright',
  seed: 33,
  phrases: [
    { voice: 'chair', say: 'Welcome. We are five, so we can decide. First the date. I propose the second Saturday in May.', write: ['Open day: Sat 8 May', '5 present'], lag: 2.5 },
    { voice: 'treasurer', say: 'Agreed. The budget is eleven hundred and forty. The tent alone is six hundred, if we book it before Christmas.', write: ['budget 1140', 'tent 600 if booked by Xmas'] },
    { voice: 'chair', say: 'Then book it, please. Who takes that?', rest: 0.6 },
    { voice: 'boatman', say: 'I will. I have to ring them about the pontoon anyway.', write: ['*Ilse Marten books the tent'], lag: 2 },
    { voice: 'chair', say: 'The two pilot boats. We take visitors round the breakwater and back, twelve at a time, and every quarter of an hour.', write: ['2 boats, 12 people,', 'every 15 min'] },
    { voice: 'boatman', say: 'Low water is at two. Between one and three the inner steps are dry, so we board at the mole in that time, and somebody has to stand there with a rope and a kind word.', write: ['LW 14:00 board at the mole', '- one helper there'], draw: 'tent plan', lag: 3, rest: 1 },
    { voice: 'treasurer', say: 'Last year the sausages ran out at noon, and the people at the far end of the queue told everybody about it for weeks. I would like that not to happen again, so I have asked three butchers, and two of them have answered, and one of them has a cousin with a trailer.', rest: 1.2 },
    { voice: 'chair', say: 'Good. Press: somebody has to write two hundred words for the paper by the end of March.', write: ['*press text, 200 words,', '*by 31 March - who?'], rest: 1.5 },
    { voice: 'chair', say: 'Next meeting is on the ninth of December, same room. Thank you.', write: ['next: 9 Dec'], rest: 2 },
  ],
};

export const NOTES = [tides, pilot, openDay] as const;
