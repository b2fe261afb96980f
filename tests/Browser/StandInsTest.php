<?php

namespace Pestle\Tests\Browser;

use Pestle\Core\Analysis\Answer;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Render\Performance;
use Pestle\Core\Render\PlayedOutside;
use Pestle\Core\Render\SampleLibrary;
use Pestle\Core\Song\Clip;
use PHPUnit\Framework\Attributes\Group;

/** Devices that are programs stand beside a Pestle, as real processes. */
#[Group('browser')]
final class StandInsTest extends PageCase
{
    /** Every 20 ms: which tick is played by the audio clock, and how far off it is from what is followed. */
    private const WATCH = <<<'JS'
        const { audio } = await import('/build/js/audio/context.js');
        const { followingNow } = await import('/build/js/beside/following.js');
        const p = await player();
        window.seen = [];
        clearInterval(window.watching);
        window.watching = setInterval(() => {
            const now = 1000 * audio().currentTime;
            const heard = p.playing && p.heard(audio().currentTime);
            if (heard) {
                window.seen.push({ now, at: heard.ticks, off: followingNow()?.off ?? 0 });
            }
        }, 20);
        JS;

    private const PLAYS = "(await import('/build/js/beside/following.js')).followingNow()?.how === 'plays'";

    public function testAClockIsFollowedLostAndFound(): void
    {
        $clock = new Beside(self::$pestle, 'clock', '--tempo=90', '--waver=2');
        $this->devices('/beats/1/pattern?section=s2');
        $this->does('Stand-in clock', 'follow');
        $this->wait("document.querySelector('.device .told').textContent.includes('waits for its start')");
        $clock->type('start');
        $this->wait("(await player()).playing && document.querySelector('.device .told').textContent.includes('ms')");
        $this->script(self::WATCH);
        $clock->type('drift 90 100 12');
        $this->wait('window.seen.length > 900');
        // 90 to 100 BPM are 1.44 to 1.6 ticks a millisecond: in nineteen of twenty seconds it goes on no faster and slower than the clock, its waver and what is made up for; in the one a busy machine may have lost it.
        $gone = $this->script('clearInterval(window.watching); const all = window.seen.slice(80).map((s, i) => (s.at - window.seen[i + 20].at) / (s.now - window.seen[i + 20].now)); all.sort((a, b) => a - b); return [all[Math.floor(all.length / 20)], all[Math.floor(19 * all.length / 20)]]');
        self::assertIsArray($gone);
        self::assertGreaterThan(1.44 * 0.98 * 0.95, $gone[0]);
        self::assertLessThan(1.6 * 1.02 * 1.05, $gone[1]);
        $off = $this->script('return window.seen.slice(50).map((s) => Math.abs(s.off)).sort((a, b) => a - b)[Math.floor(window.seen.length / 2)]');
        self::assertIsNumeric($off);
        // A machine that is so busy that sound drops out moves the audio clock: then it is made up for.
        self::assertLessThan(0.05, (float) $off, 'off by so many seconds in every second look');
        $this->wait("document.querySelector('#beside-state b').textContent > 96");
        // Both stop; and begin again.
        $clock->type('stop');
        $this->wait('!(await player()).playing');
        $clock->type('waver 0');
        $clock->type('start');
        $this->wait(self::PLAYS);
        // The cable is pulled: it is told, and it plays on.
        $clock->pullOut();
        $this->wait("document.querySelector('#notice').textContent.includes('Pestle plays on') && document.querySelector('#beside-state span').textContent === 'clock is away'");
        self::assertTrue($this->script('return (await player()).playing'));
        // It is back, and followed from its start on.
        $clock = new Beside(self::$pestle, 'clock', '--tempo=86');
        $this->wait("document.querySelector('.device .told')?.textContent.includes('86.0 BPM')");
        $clock->type('start');
        $this->wait(self::PLAYS." && document.querySelector('#beside-state b').textContent === '86.0'");
        $this->does('Stand-in clock', 'follow');
        $this->wait("document.querySelector('#beside-state').hidden && (await player()).playing && !(await player()).loop.long");
        $this->script('(await player()).stop()');
        $this->assertNoErrors(['/beside/clock']);
    }

    public function testASongIsJoinedWhereTheClockIs(): void
    {
        $clock = new Beside(self::$pestle, 'clock', '--tempo=95');
        $this->devices('/beats/1/pattern');
        $this->click('input[name=play-what][value=song]');
        $this->does('Stand-in clock', 'follow');
        $this->wait("document.querySelector('.device .told').textContent.includes('95.0 BPM, waits')");
        $clock->type('place 48');
        $clock->type('continue');
        // Forty-eight sixteenths are three bars; what plays is where the clock is, a bar or two later.
        $this->wait("/^([4-9])\\.\\d/.test(document.querySelector('#position').textContent) && document.querySelector('.device .told').textContent.includes('ms')");
        $this->wait("Math.abs((await import('/build/js/beside/following.js')).followingNow().off) < 0.01 && !document.querySelector('.device .told').textContent.includes(' 0.0 ms')");
        $clock->type('stop');
        $this->wait('!(await player()).playing');
        $this->does('Stand-in clock', 'follow');
        $this->assertNoErrors();
    }

    public function testAClockIsLed(): void
    {
        $clock = new Beside(self::$pestle, 'clock');
        $this->devices('/beats/1/pattern?section=s2');
        $this->does('Stand-in clock', 'lead');
        $clock->says('/is there/');
        $this->click('[data-start-stop]');
        $clock->says('/led: starts/');
        $this->wait('(await player()).ticks() > 5000');
        // Two quarters in which no sound drops out, as it does where a machine is busy, tell the tempo.
        for ($looks = 0, $bpm = 0.0; $looks < 30 && abs($bpm - 86.0) > 0.5; ++$looks) {
            usleep(400_000);
            $clock->type('led');
            [, $bpm, $quarter] = array_map(floatval(...), $clock->says('/led: runs, ([\d.]+) BPM, quarter (\d+)/'));
        }
        self::assertEqualsWithDelta(86.0, $bpm, 0.5);
        self::assertGreaterThanOrEqual(5, $quarter ?? 0);
        $this->click('[data-start-stop]');
        $clock->says('/led: stops/');
        // While it plays already, it is joined with the next bar.
        $this->does('Stand-in clock', 'lead');
        $this->click('[data-start-stop]');
        $this->wait('(await player()).ticks() > 1000');
        $this->does('Stand-in clock', 'lead');
        $clock->says('/led: goes on/');
        $this->script('(await player()).stop()');
        $clock->says('/led: stops/');
        $this->assertNoErrors();
    }

    public function testAControllerIsLearnedAnsweredAndPulledOut(): void
    {
        $controller = new Beside(self::$pestle, 'controller', '--name=Nine pads');
        $this->devices('/beats/1/kit?section=s2&pad=a0');
        // It is told which pads hold something.
        $controller->says('/pad 36 lights 32/');
        $this->script("window.struck = []; document.addEventListener('pestle:struck', (e) => window.struck.push(e.detail))");
        $controller->type('strike 37 101');
        $this->wait("window.struck.length === 1 && window.struck[0].source === 'a1' && window.struck[0].velocity === 101");
        $controller->says('/pad 37 lights 101\s+pad 37 lights 32/');
        $controller->type('release 37');
        // A slider is learned, moves, and picks up where that is wished; where it stands is told after an undo.
        $this->click('[data-controllers-slider]');
        $this->script("document.querySelector('main input[type=range][name=levelDb]').dispatchEvent(new PointerEvent('pointerdown', { bubbles: true, cancelable: true }))");
        $controller->type('slider 21 100');
        $this->wait("document.querySelector('.device .told').textContent === '1 control'");
        $head = self::whole($this->script('return JSON.parse(document.querySelector("#app").dataset.page).head'));
        $controller->type('slider 21 0');
        $this->wait("document.querySelector('main input[type=number][name=levelDb]').value === '-60.0'");
        $controller->says('/slider 21 stands at 0/');
        $this->wait("JSON.parse(document.querySelector('#app').dataset.page).head > $head");
        $this->undo(1);
        $controller->says('/slider 21 stands at [1-9]/');
        $level = "document.querySelector('main input[type=number][name=levelDb]').value";
        $this->set('select[name=takes-hold]', 'pick-up');
        $controller->type('slider 21 20');
        $this->wait("document.querySelector('#controllers-say').textContent.includes('to pick it up')");
        self::assertSame('0.0', $this->script("return $level"));
        $controller->type('slider 21 127');
        $this->wait("$level === '12.0' && JSON.parse(document.querySelector('#app').dataset.page).head > $head + 2");
        $this->undo(1);
        // One without an end is found out.
        $this->click('[data-controllers-slider]');
        $this->script("document.querySelector('main input[type=range][name=pan]').dispatchEvent(new PointerEvent('pointerdown', { bubbles: true, cancelable: true }))");
        foreach ([1, 1, 1, 1, 1, 2] as $steps) {
            $controller->type("turn 30 $steps");
        }
        $this->wait("document.querySelector('#notice').textContent.includes('has no end')");
        $controller->type('turn 30 5');
        // All of its steps have come: what comes later would be learned in place of the pad.
        $this->wait("Number(document.querySelector('main input[type=range][name=pan]').value) > 0.12");
        // A pad presses a button.
        $this->click('[data-controllers-slider]');
        $this->script("document.querySelector('[data-click]').dispatchEvent(new PointerEvent('pointerdown', { bubbles: true, cancelable: true }))");
        $controller->type('strike 90');
        $this->wait("document.querySelector('.device .told').textContent === '3 controls'");
        $controller->type('strike 90');
        $this->wait("document.querySelector('[data-click]').getAttribute('aria-pressed') === 'true'");
        $controller->type('strike 90');
        $this->wait("document.querySelector('[data-click]').getAttribute('aria-pressed') === 'false'");
        // Pulled out in the midst of a strike, nothing is held any longer; back again it is known by its name.
        $controller->type('strike 36');
        $held = "(await import('/build/js/hands.js')).allHeld().length";
        $this->wait("$held === 1");
        $controller->pullOut();
        $this->wait("$held === 0 && !document.querySelector('.device')");
        $controller = new Beside(self::$pestle, 'controller', '--name=Nine pads');
        $this->wait("document.querySelector('.device .told')?.textContent === '3 controls'");
        $this->script("document.querySelector('.device [data-does=forget]').click()");
        $this->wait("document.querySelector('.device .told').textContent === 'pads from C1 on'");
        $this->undoAll();
        $this->assertNoErrors(['/beside/controller']);
    }

    public function testABoxAnswersAPartInItsPlaceAndItsNoiseIsGated(): void
    {
        $box = new Beside(self::$pestle, 'module', '--late=41.5');
        $box->says('/is there/');
        $this->devices('/beats/1/pattern?section=s6');
        $before = $this->text('[data-undo]');
        $this->click('[data-does=answer]');
        $this->wait("document.querySelector('.device .told').textContent.includes('records')");
        // Given up, nothing was changed; then it is done.
        $this->click('[data-does=give-up]');
        $this->wait("document.querySelector('[data-does=answer]')");
        self::assertSame($before, $this->text('[data-undo]'));
        $this->click('[data-does=answer]');
        $this->wait("document.querySelector('[data-undo]').textContent.includes('fixed as sound')");
        $this->wait("document.querySelector('[data-does=gate]')");
        self::assertEqualsWithDelta(41.5, (float) preg_replace('/.*answers ([\d.]+) ms late.*/s', '$1', $this->text('#notice')), 1.5);
        $this->click('[data-does=gate]');
        $this->wait("document.querySelector('[data-undo]').textContent.includes('gated')");

        // What was recorded lies where the part's first note is, a millisecond off at the most.
        $clip = array_values(array_filter($this->document()->clips, static fn (Clip $c): bool => 'e6/part-3' === $c->fixed))[0];
        $this->undo(2);
        $note = PlayedOutside::in($this->document(), 'e6', 'part-3')->notes[0];
        $file = (new SampleLibrary(self::$pestle->data.'/samples'))->open($clip->sample);
        $first = $clip->from + (int) round(44_100 * $note[0]);
        $answer = Answer::in($file, $first - 4410);
        self::assertNotNull($answer);
        self::assertEqualsWithDelta(4410, $answer->late, 44.1);
        $this->assertNoErrors();
    }

    public function testWhatIsHeldWhilePerformingIsHeldByAController(): void
    {
        $controller = new Beside(self::$pestle, 'controller');
        $this->devices('/beats/1/arrange?view=perform');
        $this->click('[data-start-stop]');
        $this->wait('(await player()).playing && !(await player()).busy');
        $this->click('[data-controllers-slider]');
        $this->script("document.querySelector('[data-live-held=tone]').dispatchEvent(new PointerEvent('pointerdown', { bubbles: true, cancelable: true, pointerId: 3 }))");
        $controller->type('strike 91');
        $this->wait("document.querySelector('.device .told').textContent === '1 control'");
        $controller->type('release 91');
        $controller->type('strike 91');
        $this->wait("document.querySelector('[data-live-held=tone]').hasAttribute('data-acts')");
        $controller->type('release 91');
        $this->wait("!document.querySelector('[data-live-held=tone]').hasAttribute('data-acts')");
        // Pulled out while it holds, it lets go.
        $controller->type('strike 91');
        $this->wait("document.querySelector('[data-live-held=tone]').hasAttribute('data-acts')");
        $controller->pullOut();
        $this->wait("!document.querySelector('[data-live-held=tone]').hasAttribute('data-acts')");
        $this->script('(await player()).stop()');
        $this->assertNoErrors(['/beside/controller']);
    }

    public function testAPartPlaysABox(): void
    {
        $box = new Beside(self::$pestle, 'module');
        $this->devices('/beats/1/pattern?section=s2');
        $this->click('[data-does=play-out]');
        $this->wait("document.querySelector('[data-does=play-out]').getAttribute('aria-pressed') === 'true'");
        // Its hum is heard although nothing plays yet: its sound goes out with Pestle's.
        $loud = 'const { audio, output } = await import("/build/js/audio/context.js"); window.ear ??= new AnalyserNode(audio(), { fftSize: 2048 }); output().connect(window.ear); const wave = new Float32Array(2048); window.ear.getFloatTimeDomainData(wave); return Math.max(...wave)';
        $this->wait("await (async () => { $loud })() > 0.001");
        $notes = PlayedOutside::in($this->document(), 'e2', 'part-3')->notes;
        $this->click('[data-start-stop]');
        // A beat and a half of them, as strong and as far apart as the part has them, by the tempo.
        $heard = [];
        for ($i = 0; $i < 6; ++$i) {
            $heard[] = array_map(floatval(...), \array_slice($box->says('/note (\d+), strength (\d+), at ([\d.]+)/'), 1));
        }
        $from = array_search([(int) $heard[0][0], (int) $heard[0][1]], array_map(static fn (array $n): array => [$n[1], $n[2]], $notes), true);
        self::assertIsInt($from);
        $inTime = 0;
        foreach ($heard as $i => [$pitch, $strength, $at]) {
            self::assertSame([(int) $pitch, (int) $strength], [$notes[$from + $i][1], $notes[$from + $i][2]]);
            $inTime += (int) (0 < $i && abs(1000 * ($notes[$from + $i][0] - $notes[$from + $i - 1][0]) - $at + $heard[$i - 1][2]) < 8.0);
        }
        // Where a machine is so busy that sound drops out, notes wait for it as well.
        self::assertGreaterThanOrEqual(3, $inTime);
        $this->click('[data-start-stop]');
        $this->click('[data-does=play-out]');
        $this->assertNoErrors();
    }

    public function testStrikesOfAControllerAreRecordedWhenTheyWereWhileThePageIsBusy(): void
    {
        $controller = new Beside(self::$pestle, 'controller');
        $this->devices('/beats/1/pattern?section=s2');
        $this->script("localStorage.setItem('pestle-recording', JSON.stringify({ strength: 0, countIn: 0, latency: 0 }))");
        $this->devices('/beats/1/pattern?section=s2');
        $this->click('[data-record]');
        $this->wait('(await player()).ticks() > 100 && (await player()).loop && !(await player()).busy');
        // Half of its time the page does something else.
        $this->script('window.toil = setInterval(() => { for (const until = performance.now() + 90; performance.now() < until;) { Math.random(); } }, 180)');
        $controller->type('beat 37 77 437 10');
        $this->wait("document.querySelector('[data-undo]').textContent.includes('Recorded')");
        $this->script('clearInterval(window.toil)');
        $this->click('[data-record]');
        $this->wait("document.querySelector('[data-record]').getAttribute('aria-pressed') === 'false' && document.querySelector('#saved').textContent === 'Saved'");
        // As they are felt, which is as they were played: written down, swing and grooves are taken out of them.
        $ticks = [];
        $beat = $this->document();
        foreach ((new Performance($beat))->of(Passage::of($beat, 's2', false), 0) as [$event, , $tick]) {
            if ($event instanceof Hit && 'a1' === $event->pad && 77 === $event->velocity) {
                $ticks[] = $tick;
            }
        }
        self::assertGreaterThan(5, \count($ticks));
        sort($ticks);
        // 437 ms are 601.3 ticks at 86 BPM; a pass of the pattern and what lies beyond its end stand apart.
        $gaps = array_map(static fn (float $a, float $b): float => $b - $a, \array_slice($ticks, 0, -1), \array_slice($ticks, 1));
        $even = array_filter($gaps, static fn (float $gap): bool => abs($gap - 601.3) < 150);
        self::assertGreaterThan(3, \count($even));
        // 3 ms are 4.1 ticks. Where sound drops out on a busy machine, its clock itself slips by some milliseconds, at one strike.
        $inTime = array_filter($even, static fn (float $gap): bool => abs($gap - 601.3) < 4.1);
        self::assertGreaterThanOrEqual(intdiv(\count($even), 2), \count($inTime), (string) json_encode($gaps));
        $this->undoAll();
        $this->script("localStorage.removeItem('pestle-recording')");
        $this->assertNoErrors(['/beside/']);
    }

    private function document(): Beat
    {
        $process = proc_open([\PHP_BINARY, \dirname(__DIR__, 2).'/bin/console', 'pestle:show', '1', '--json'], [1 => ['pipe', 'w']], $pipes, null, ['PESTLE_DATA' => self::$pestle->data, 'PATH' => (string) getenv('PATH')]);
        self::assertIsResource($process);
        $json = (string) stream_get_contents($pipes[1]);
        self::assertSame(0, proc_close($process));

        return BeatCodec::decode($json);
    }

    private function devices(string $path): void
    {
        $this->open($path);
        $this->click('[data-controllers]');
        $this->wait("document.querySelector('.device')");
    }

    private function does(string $device, string $what): void
    {
        $this->click("[data-device=\"$device\"] [data-does=$what]");
    }
}
