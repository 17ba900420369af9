"""What the training stands on: `python3 -m unittest` in this folder. The network itself is judged by its figures (`evaluate.ts`)."""
import json
import os
import unittest

import numpy as np

import alphabet
import drawing
import hands


class Alphabet(unittest.TestCase):
    def test_every_sign_once(self):
        self.assertEqual(len(set(alphabet.ALPHABET)), len(alphabet.ALPHABET))

    def test_rows_come_down_to_texts(self):
        # The rule of CTC (Graves and others, ICML 2006, section 3.1, their example B(a-ab-) = B(-aa--abb) = aab).
        a, b = alphabet.INDEX["a"], alphabet.INDEX["b"]
        self.assertEqual(alphabet.decode([a, 0, a, b, 0]), "aab")
        self.assertEqual(alphabet.decode([0, a, a, 0, 0, a, b, b]), "aab")
        self.assertEqual(alphabet.decode(alphabet.encode("tide")), "tide")


class Drawing(unittest.TestCase):
    def test_size(self):
        tall = drawing.picture([np.array([[0.0, 0.0], [0.0, 100.0]])])
        rows = np.flatnonzero(tall.max(axis=1) > 0.5)
        # A straight line from top to bottom is spread over its whole length: seven px of standard deviation are 24 px (7 times the root of 12).
        self.assertAlmostEqual(rows[-1] - rows[0] + 1, 7 * 12**0.5, delta=3)

    def test_scale_and_place_do_not_matter(self):
        strokes = [np.array([[0.0, 0.0], [3.0, 8.0], [6.0, 1.0]]), np.array([[2.0, 4.0], [5.0, 4.0]])]
        one = drawing.picture(strokes)
        two = drawing.picture([s * 7.3 + (40, -9) for s in strokes])
        np.testing.assert_allclose(one, two, atol=1e-5)

    def test_dash_and_dot(self):
        self.assertLess(drawing.picture([np.array([[0.0, 0.0], [30.0, 0.5]])]).shape[1], 40)
        self.assertGreater(drawing.picture([np.array([[3.0, 3.0]])]).max(), 0.5)


class Hands(unittest.TestCase):
    face = {"one": {"i": ([np.array([[0.2, -1.0], [0.2, 0.0]]), np.array([[0.2, -1.5], [0.2, -1.45]])], 0.4), " ": ([], 0.4)}}

    def test_the_same_seed_writes_the_same(self):
        rows = [hands.write("ii i", self.face, ["one"], np.random.default_rng(5)) for _ in range(2)]
        for a, b in zip(*rows):
            np.testing.assert_array_equal(a, b)

    def test_even_is_as_the_face_has_it(self):
        strokes = hands.write("i", self.face, ["one"], np.random.default_rng(1), even=True)
        np.testing.assert_allclose(strokes[0][[0, -1]], [[0.2, -1.0], [0.2, 0.0]], atol=1e-6)

    def test_a_sign_no_face_has(self):
        self.assertIsNone(hands.write("x", self.face, ["one"], np.random.default_rng(1)))


class Held(unittest.TestCase):
    def test_no_face_is_learned_and_held_apart(self):
        with open(os.path.join(os.path.dirname(__file__), "fonts.json")) as f:
            fonts = json.load(f)
        self.assertFalse(set(fonts["trained"] + fonts["outlined"]) & set(fonts["held"]))
        self.assertGreaterEqual(len(fonts["held"]), 10)
        self.assertTrue(set(fonts["capitals"]) <= set(fonts["trained"]))


if __name__ == "__main__":
    unittest.main()
