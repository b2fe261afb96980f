<?php

namespace Pestle\Tests\Core\Analysis;

use Pestle\Core\Analysis\Chroma;
use Pestle\Core\Analysis\Fitted;
use Pestle\Core\Analysis\HitModel;
use Pestle\Core\Analysis\HitSound;
use Pestle\Core\Analysis\KeyGuess;
use Pestle\Core\Analysis\OnsetStrength;
use Pestle\Core\Analysis\TempoFeatures;
use Pestle\Core\Audio\MemorySource;
use Pestle\Tests\Core\Sounds;
use Pestle\Tests\Hearing\ChoiceTrainer;
use Pestle\Tests\Hearing\NetworkTrainer;
use PHPUnit\Framework\TestCase;

/** The fitted numbers that are shipped belong to the features as they are; and fitting finds what is there to be found. */
final class ModelsTest extends TestCase
{
    private const MODELS = __DIR__.'/../../../core/Analysis/models/';

    public function testEveryFeatureHasItsNumber(): void
    {
        $source = new MemorySource(Sounds::hit(3, 60000), 44100);
        /** @var array{mean: list<float>, deviation: list<float>, hidden: list<list<float>>, output: list<list<float>>} $hits */
        $hits = $this->numbers('hits');
        $features = (new HitSound($source, 0.7))->features(0, 60000);
        self::assertCount(\count($features), $hits['mean']);
        self::assertCount(\count($features) + 1, $hits['hidden'][0]);
        self::assertCount(\count(HitModel::KINDS), $hits['output']);
        self::assertCount(\count($hits['hidden']) + 1, $hits['output'][0]);
        self::assertEqualsWithDelta(1.0, array_sum(HitModel::shipped()->probabilities($features)), 1e-9);
        $tempo = TempoFeatures::of(OnsetStrength::of($source), [], 60000 / 44100)->candidates;
        self::assertSame(\count($tempo[0][1]), \count($this->numbers('tempo')));
        $keys = KeyGuess::candidates(Chroma::of($source));
        self::assertCount(24, $keys);
        self::assertSame(\count($keys[0][1]), \count($this->numbers('key')));
        self::assertEqualsWithDelta(1.0, array_sum(Fitted::choice('key', array_column($keys, 1))), 1e-9);
    }

    /** Choices made by known weights, with some chance in them: the weights are found again. */
    public function testWeightsAreFoundAgain(): void
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
        self::assertEqualsWithDelta($true, ChoiceTrainer::fit($cases, $right, 0.1), 0.35);
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
        $fitted = NetworkTrainer::fit($features, $kinds, 60);
        $model = new HitModel($fitted['mean'], $fitted['deviation'], $fitted['hidden'], $fitted['output']);
        $right = 0;
        foreach ($features as $i => $f) {
            $probabilities = $model->probabilities($f);
            $right += $kinds[$i] === array_search(max($probabilities), $probabilities, true) ? 1 : 0;
        }
        self::assertGreaterThan(540, $right, 'of 600');
    }

    /** @return array<mixed> */
    private function numbers(string $name): array
    {
        $numbers = json_decode((string) file_get_contents(self::MODELS.$name.'.json'), true);

        return \is_array($numbers) ? $numbers : [];
    }
}
