<?php

namespace Pestle\Tests\Core\Synth;

use Pestle\Core\Analysis\Heard;
use Pestle\Core\Audio\MemorySource;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Kit\Role;
use Pestle\Core\Signal\Fft;
use Pestle\Core\Synth\DrumKits;
use Pestle\Core\Synth\DrumSound;
use PHPUnit\Framework\TestCase;

/** Drum voices are what a drummer would call them, by numbers. */
final class DrumSoundTest extends TestCase
{
    /** Any kick has its lows and is over soon, any snare has body and wires, hats lie high, open ones are longer; no two are the same. */
    public function testEveryRoleIsHealthyWhateverItsSeed(): void
    {
        $seen = [];
        for ($seed = 1; $seed <= 12; ++$seed) {
            $sounds = array_combine(array_map(static fn (Role $r): string => $r->value, DrumSound::ROLES), array_map(static fn (Role $role): StereoBlock => DrumSound::by($role, $seed)->sound(), DrumSound::ROLES));
            foreach ($sounds as $role => $sound) {
                $seen[] = md5(pack('e*', ...$sound->left));
                self::assertEqualsWithDelta(0.8, $sound->peak(), 1e-6);
                self::assertLessThan(0.002, abs(array_sum($sound->left) / $sound->frames()), "$role: no direct current");
                self::assertLessThan(0.01, abs($sound->left[$sound->frames() - 1]), "$role ends in silence");
            }
            $low = self::share($sounds['kick'], 0.0, 140.0);
            self::assertTrue($low > 0.6, "kick $seed: $low of it lies low");
            self::assertLessThan(0.56, $sounds['kick']->frames() / 44_100);
            [$body, $wires] = [self::share($sounds['snare'], 120.0, 500.0), self::share($sounds['snare'], 1000.0, 9000.0)];
            self::assertTrue($body > 0.08 && $wires > 0.05, "snare $seed: body $body, wires $wires");
            self::assertGreaterThan(0.9, self::share($sounds['hat'], 4500.0, 20_000.0), "hat $seed");
            self::assertGreaterThan(2.0 * $sounds['hat']->frames(), $sounds['open-hat']->frames());
            self::assertGreaterThan($sounds['open-hat']->frames(), $sounds['cymbal']->frames());
            self::assertLessThan(0.05, self::share($sounds['clap'], 0.0, 400.0));
        }
        self::assertCount(\count($seen), array_unique($seen));
    }

    public function testWhatADrummerSaysIsHeard(): void
    {
        $kick = new DrumSound(Role::Kick, dirt: 0.0);
        self::assertSame($kick->sound()->left, (new DrumSound(Role::Kick, dirt: 0.0))->sound()->left);
        self::assertEqualsWithDelta(2.0, self::lowest($kick->with(['tune' => 12.0, 'drop' => 0.0])->sound()) / self::lowest($kick->with(['drop' => 0.0])->sound()), 0.12);
        self::assertGreaterThan(1.4 * $kick->sound()->frames(), $kick->with(['length' => 1.5])->sound()->frames());
        $snare = new DrumSound(Role::Snare, wires: 0.1);
        self::assertGreaterThan(1.5 * self::share($snare->sound(), 1000.0, 9000.0), self::share($snare->with(['wires' => 0.9])->sound(), 1000.0, 9000.0));
        self::assertGreaterThan(1.5 * self::share($kick->with(['dirt' => 0.0, 'click' => 0.0, 'wires' => 0.0, 'drop' => 0.0])->sound(), 130.0, 500.0), self::share($kick->with(['dirt' => 18.0, 'click' => 0.0, 'wires' => 0.0, 'drop' => 0.0])->sound(), 130.0, 500.0));
        $other = $snare->another(77);
        self::assertNotSame($snare->sound()->left, $other->sound()->left);
        self::assertEqualsWithDelta($snare->tune, $other->tune, 1.5);
        $this->expectExceptionMessage('A drum is one of: kick, snare');
        new DrumSound(Role::Voice);
    }

    /** Each kit of the shelf is turned the way it is called, against the plain one; none reaches full scale. */
    public function testKitsOfTheShelfAreWhatTheyAreCalled(): void
    {
        $kits = array_map(static fn (string $id): array => array_map(static fn (DrumSound $d): StereoBlock => $d->sound(), DrumKits::find($id) ?? self::fail($id)), array_combine(array_keys(DrumKits::NAMES), array_keys(DrumKits::NAMES)));
        self::assertCount(6, $kits);
        self::assertNull(DrumKits::find('nothing'));
        foreach ($kits as $id => $sounds) {
            self::assertCount(16, $sounds, $id);
            self::assertLessThanOrEqual(0.8001, max([0.0, ...array_map(static fn (StereoBlock $b): float => $b->peak(), $sounds)]), $id);
        }
        $length = static fn (string $id): int => array_sum(array_map(static fn (StereoBlock $b): int => $b->frames(), $kits[$id]));
        self::assertGreaterThan(1.5 * $length('pavement'), $length('bath-house'));
        self::assertLessThan(0.7 * $length('pavement'), $length('matchbox'));
        self::assertLessThan(0.8 * $length('pavement'), $length('paper'));
        $low = static fn (string $id): float => self::lowest($kits[$id][0]);
        self::assertLessThan(0.9 * $low('pavement'), $low('cellar'));
        self::assertGreaterThan(1.3 * $low('pavement'), $low('matchbox'));
        $dirt = static fn (string $id): float => self::share($kits[$id][0], 150.0, 2000.0);
        self::assertGreaterThan($dirt('cellar'), $dirt('rust'));
        self::assertCount(96, array_unique(array_merge(...array_map(static fn (array $sounds): array => array_map(static fn (StereoBlock $b): string => md5(pack('e*', ...$b->left)), $sounds), array_values($kits)))));
    }

    /** A kit has sixteen that Pestle itself hears as what they are meant to be, nearly all. */
    public function testAKitIsHeardAsWhatItIs(): void
    {
        $right = $count = 0;
        foreach ([1, 2] as $seed) {
            foreach (DrumSound::kit($seed) as $drum) {
                $heard = Role::from(Heard::in(new MemorySource($drum->sound(), 44_100))->role ?? 'effect');
                $right += (int) ($heard === $drum->role || \in_array($heard, $drum->role->instead(), true) || \in_array($drum->role, $heard->instead(), true));
                ++$count;
            }
        }
        self::assertSame(32, $count);
        self::assertGreaterThanOrEqual(24, $right, 'of 32');
    }

    private static function share(StereoBlock $block, float $fromHz, float $toHz): float
    {
        $part = $all = 1e-12;
        foreach (self::magnitudes($block) as $k => $m) {
            $hz = $k * 44_100 / 16_384;
            $all += $m * $m;
            $part += $hz >= $fromHz && $hz < $toHz ? $m * $m : 0.0;
        }

        return $part / $all;
    }

    private static function lowest(StereoBlock $block): float
    {
        $magnitudes = self::magnitudes($block);

        return array_search(max([0.0, ...$magnitudes]), $magnitudes, true) * 44_100 / 16_384;
    }

    /** @return list<float> */
    private static function magnitudes(StereoBlock $block): array
    {
        return (new Fft(16_384))->magnitudes(\array_slice([...$block->left, ...array_fill(0, 16_384, 0.0)], 0, 16_384));
    }
}
