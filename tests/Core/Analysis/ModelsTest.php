<?php

namespace Pestle\Tests\Core\Analysis;

use Pestle\Core\Analysis\Chroma;
use Pestle\Core\Analysis\Fitted;
use Pestle\Core\Analysis\Hits;
use Pestle\Core\Analysis\HitSound;
use Pestle\Core\Analysis\KeyGuess;
use Pestle\Core\Analysis\MeterGuess;
use Pestle\Core\Analysis\OnsetStrength;
use Pestle\Core\Analysis\Repetition;
use Pestle\Core\Analysis\TempoFeatures;
use Pestle\Core\Analysis\Transcription;
use Pestle\Core\Audio\MemorySource;
use Pestle\Tests\Core\Sounds;
use Pestle\Tests\Hearing\ChoiceTrainer;
use Pestle\Tests\Hearing\NetworkTrainer;
use PHPUnit\Framework\TestCase;

/** The fitted numbers that are shipped belong to the features as they are; and fitting finds what is there to be found. */
final class ModelsTest extends TestCase
{
    public function testEveryFeatureHasItsNumber(): void
    {
        $source = new MemorySource(Sounds::hit(3, 60000), 44100);
        $hits = Fitted::network('hits');
        [$features] = HitSound::among([(new HitSound($source, 0.7))->features(0, 60000)]);
        self::assertCount(\count($features), $hits->mean);
        self::assertCount(\count($features) + 1, $hits->hidden[0]);
        self::assertCount(\count(Hits::KINDS), $hits->output);
        self::assertCount(\count($hits->hidden) + 1, $hits->output[0]);
        $tempo = TempoFeatures::of($repeats = new Repetition($strength = OnsetStrength::of($source), []), 172.0, 60000 / 44100)->candidates;
        self::assertCount(\count(MeterGuess::features($repeats, $strength, [], 100.0, 60000 / 44100)), Fitted::network('meter')->mean);
        self::assertCount(\count($tempo[0][1]), Fitted::network('tempo')->mean);
        [[, $notes]] = Transcription::cues($source);
        self::assertCount(\count(current($notes) ?: []), Fitted::network('notes')->mean);
        self::assertCount(3, Fitted::network('notes')->output);
        $keys = KeyGuess::candidates(Chroma::of($source));
        self::assertCount(24, $keys);
        self::assertCount(\count($keys[0][1]), Fitted::network('key')->mean);
        self::assertEqualsWithDelta(1.0, array_sum(Fitted::choice('key', array_column($keys, 1))), 1e-9);
    }

    /** Choices made by known weights, with some chance in them: the scores go by those weights. */
    public function testWhatDecidesAChoiceIsFoundAgain(): void
    {
        mt_srand(5);
        $true = [2.0, -1.0, 0.0];
        $cases = $right = [];
        for ($k = 0; $k < 400; ++$k) {
            $candidates = array_map(static fn (): array => [mt_rand(-1000, 1000) / 500, mt_rand(-1000, 1000) / 500, mt_rand(-1000, 1000) / 500], range(1, 5));
            // The largest of score plus Gumbel noise is a logit choice.
            $scores = array_map(static fn (array $f): float => $f[0] * $true[0] + $f[1] * $true[1] - log(-log(mt_rand(1, 999) / 1000)), $candidates);
            $cases[] = $candidates;
            $right[] = [(int) array_search(max($scores), $scores, true)];
        }
        $fitted = ChoiceTrainer::fit($cases, $right, 6);
        foreach ([[1.0, 0.0, 0.0], [0.0, 1.0, 0.0], [0.0, 0.0, 1.0]] as $i => $one) {
            $slope = ($fitted->outputs(array_map(static fn (float $x): float => 0.5 * $x, $one))[0] - $fitted->outputs(array_map(static fn (float $x): float => -0.5 * $x, $one))[0]);
            self::assertEqualsWithDelta($true[$i], $slope, 0.5);
        }
    }

    public function testTheNetworkLearnsToTellThingsApart(): void
    {
        mt_srand(9);
        $features = $kinds = [];
        for ($i = 0; $i < 600; ++$i) {
            [$x, $y] = [mt_rand(-1000, 1000) / 1000, mt_rand(-1000, 1000) / 1000];
            $features[] = [$x, $y];
            // Quarters of a plane, crosswise: no straight line tells them apart.
            $kinds[] = $x * $y > 0 ? 0 : 1;
        }
        $fitted = NetworkTrainer::fit($features, $kinds, 2, 40, 60);
        $right = 0;
        foreach ($features as $i => $f) {
            $probabilities = $fitted->outputs($f) ?: [0.0];
            $right += $kinds[$i] === array_search(max($probabilities), $probabilities, true) ? 1 : 0;
        }
        self::assertGreaterThan(540, $right, 'of 600');
    }
}
