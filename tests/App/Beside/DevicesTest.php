<?php

namespace Pestle\Tests\App\Beside;

use Pestle\App\Beside\Clock;
use Pestle\App\Beside\Controller;
use Pestle\App\Beside\Device;
use Pestle\App\Beside\Led;
use Pestle\App\Beside\Module;
use Pestle\App\Beside\StandIn;
use PHPUnit\Framework\TestCase;

/** Devices that are programs say what the MIDI standard says they do. */
final class DevicesTest extends TestCase
{
    public function testAClockSends24PulsesAQuarter(): void
    {
        [$clock, $out] = [new Clock(90.0), new Sockets()];
        self::turned($clock, $out, 5_000.0, 15_000.0);
        $pulses = array_column(array_filter($out->midi, static fn (array $m): bool => "\xF8" === $m[0]), 1);
        self::assertEqualsWithDelta(10 * 90 / 60 * 24, \count($pulses), 1);
        self::assertEqualsWithDelta(60_000 / 90 / 24 * 100, $pulses[150] - $pulses[50], 1e-6);
        $clock->typed('place 260');
        $clock->typed('continue');
        self::turned($clock, $out, 15_000.0, 15_050.0);
        $said = array_column(\array_slice($out->midi, \count($pulses)), 0);
        // 260 sixteenths are 2 * 128 + 4.
        self::assertSame(["\xF2\x04\x02", "\xFB", "\xF8"], \array_slice($said, 0, 3));
    }

    public function testAClockWaversAndDrifts(): void
    {
        [$clock, $out] = [new Clock(120.0, waver: 2.0), new Sockets()];
        $moments = self::pulses($clock, $out);
        $bpm = array_map(static fn (float $a, float $b): float => 2_500.0 / ($b - $a), \array_slice($moments, 0, -1), \array_slice($moments, 1));
        self::assertEqualsWithDelta(122.4, max(0.0, ...$bpm), 0.05);
        self::assertEqualsWithDelta(117.6, min(1e3, ...$bpm), 0.05);
        $clock = new Clock(jitter: 3.0);
        $moments = self::pulses($clock, new Sockets());
        $off = array_map(static fn (float $m, int $i): float => $m - $i * 60_000 / 120 / 24, $moments, array_keys($moments));
        self::assertGreaterThan(1.5, max(-1e3, ...$off) - min(1e3, ...$off));
        self::assertLessThanOrEqual(3.0, max(-1e3, ...$off) - min(1e3, ...$off));
        foreach (['louder', 'tempo fast', 'place'] as $command) {
            try {
                $clock->typed($command);
                self::fail($command);
            } catch (\InvalidArgumentException $e) {
                self::assertStringContainsString('It knows: start', $e->getMessage());
            }
        }
    }

    public function testHowItIsLedIsTold(): void
    {
        $led = new Led();
        self::assertSame('led: by nobody', $led->told());
        $led->receive("\xF2\x08\x00", 0.0);
        $led->receive("\xFB", 0.0);
        for ($i = 0; $i < 49; ++$i) {
            $led->receive("\xF8", 10.0 + $i * 25.0 + (30 === $i ? 2.0 : 0.0));
        }
        // Eight sixteenths are two quarters, and two more went by.
        self::assertSame('led: runs, 100.00 BPM, quarter 5, pulses within 2.00 ms', $led->told());
        $led->receive("\xFC", 1300.0);
        self::assertSame(['led: goes on at 0.0', 'led: stops at 1300.0'], $led->news(1300.0));
        self::assertSame(['led: the pulses stay away'], $led->news(3000.0));
        self::assertSame([], $led->news(4000.0));
    }

    public function testAModuleAnswersLateAndNeverQuiteSilently(): void
    {
        $module = new Module(31.7);
        $out = new Sockets();
        $module->turn(1000.0, $out);
        $module->receive("\x90\x3C\x7F", 1500.0);
        $module->receive("\x80\x3C\x00", 1800.0);
        self::turned($module, $out, 1000.0, 3000.0);
        [$frame, $at] = $out->blocks[0];
        $answers = $frame + (int) ceil((1531.7 - $at) * 44.1);
        $peak = static fn (int $from, int $to): float => max(0.0, ...array_map(abs(...), \array_slice($out->sound, $from, $to - $from)));
        self::assertLessThan(0.0041, $peak(0, $answers));
        self::assertGreaterThan(0.001, $peak(0, $answers));
        self::assertGreaterThan(0.01, $peak($answers, $answers + 220));
        self::assertLessThan(0.0041, $peak($answers + 44 * 900, $answers + 44 * 1200), 'let go, it dies away');
        // As many frames as time went by, one after the other.
        self::assertSame(range($frame, $frame + 441 * (\count($out->blocks) - 1), 441), array_column($out->blocks, 0));
        self::assertSame(['note 60, strength 127, at 1500.0'], $out->said);
        $silent = new Sockets(false);
        self::turned($module, $silent, 3000.0, 4000.0);
        self::assertSame([], $silent->blocks);
    }

    public function testAControllerSendsWhatIsTypedAndTellsWhatComesBack(): void
    {
        [$controller, $out] = [new Controller(), new Sockets()];
        foreach (['strike 36 101' => '902465', 'strike 40' => '902864', 'release 36' => '802400', 'press 36 9' => 'a02409', 'pressure 70' => 'd046', 'slider 20 64' => 'b01440', 'turn 30 3' => 'b01e03', 'turn 30 -2' => 'b01e7e', 'bend 8192' => 'e00040', 'slider 20 900' => 'b0147f'] as $command => $bytes) {
            self::assertSame('sent '.$bytes, $controller->typed($command));
            $controller->turn(5.0, $out);
            self::assertSame($bytes, bin2hex($out->midi[\count($out->midi) - 1][0]));
        }
        $controller->receive("\x90\x24\x20", 0.0);
        $controller->receive("\x90\x24\x00", 0.0);
        $controller->receive("\xB0\x14\x40", 0.0);
        $controller->receive("\xFE", 0.0);
        $controller->turn(6.0, $out);
        self::assertSame(['pad 36 lights 32', 'pad 36 is dark', 'slider 20 stands at 64'], $out->said);
        // Strikes that were ordered ahead keep their moments, however late they are sent.
        self::assertSame('beats 3 times, every 40.0 ms', $controller->typed('beat 36 90 40 3'));
        $sent = \count($out->midi);
        $last = $controller->turn(StandIn::now(), $out);
        self::assertGreaterThan(StandIn::now(), $last);
        self::assertSame(\INF, $controller->turn(StandIn::now() + 500.0, $out));
        $moments = array_column(array_filter(\array_slice($out->midi, $sent), static fn (array $m): bool => "\x90\x24\x5A" === $m[0]), 1);
        self::assertCount(3, $moments);
        self::assertEqualsWithDelta(80.0, max(0.0, ...$moments) - min(1e12, ...$moments), 1e-6);
        $this->expectException(\InvalidArgumentException::class);
        $controller->typed('shake');
    }

    private static function turned(Device $device, Sockets $out, float $from, float $to): void
    {
        for ($now = $from; $now <= $to; $now += 3.0) {
            $device->turn($now, $out);
        }
    }

    /** @return list<float> */
    private static function pulses(Clock $clock, Sockets $out): array
    {
        self::turned($clock, $out, 1_000.0, 9_000.0);

        return array_column($out->midi, 1);
    }
}
