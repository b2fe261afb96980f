<?php

namespace Pestle\Tests\Browser;

use Facebook\WebDriver\WebDriverKeys;
use Pestle\Core\Audio\MemorySource;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\WavWriter;
use Pestle\Tests\Core\Sounds;

/** Sounds placed over the song: from the list and from files, by pointer and by keys; markers; and that they go along. */
final class LineOfTimeTest extends PageCase
{
    private const BAR = 3840;

    public function testASoundIsPlacedMovedCroppedSplitFadedAndRepeated(): void
    {
        $this->bare();
        $this->clickText('+ sound');
        $this->wait("document.querySelectorAll('.sound-row').length > 20");
        // The place in hand: the 21st bar, without playing.
        $this->press('.time-ruler', 20.4 / 36, shift: true);
        $this->click('[aria-label="Place Hum"]');
        $this->wait("document.querySelector('.clip[aria-current]')");
        self::assertSame(20 * self::BAR, $this->clip('at'));
        self::assertSame('Hum', $this->text('.track-lane > .clip'));
        self::assertStringContainsString('Hum placed', $this->text('[data-undo]'));
        // What is in the beat is listed with its uses, and the track has a line of the mixer.
        self::assertSame('Hum', $this->script("return document.querySelector('a.part-head[href*=\"channel=\"] span').textContent"));
        // Dragged by two bars; snapping puts it on a sixteenth.
        $this->clipDragged(0.5, 2.02 * self::BAR);
        $this->wait("document.querySelector('[data-undo]').textContent.includes('Move Hum')");
        self::assertSame(0, $this->clip('at') % 240);
        self::assertEqualsWithDelta(22 * self::BAR, $this->clip('at'), 240);
        $at = $this->clip('at');
        // By keys: earlier, its end earlier, its start later.
        $this->script("document.querySelector('.clip').focus()");
        $this->keys(',');
        $this->waitForClip("at === $at - 240");
        [$from, $to] = [$this->clip('from'), $this->clip('to')];
        $this->keys('<');
        $this->waitForClip("to < $to");
        $to = $this->clip('to');
        // In two where the place in hand is, and one again.
        $middle = $at - 240 + 480;
        $this->script("(await import('/build/js/song-cursor.js')).setCursor($middle); document.querySelector('.clip').focus()");
        $this->keys('x');
        $this->wait("document.querySelectorAll('.clip').length === 2");
        self::assertSame($middle, $this->clip('at', 1));
        self::assertSame($this->clip('to'), $this->clip('from', 1));
        $this->clickText('Join');
        $this->wait("document.querySelectorAll('.clip').length === 1");
        self::assertSame([$from, $to], [$this->clip('from'), $this->clip('to')]);
        // Its upper corner makes it fade in.
        $this->set('.clip-set [name=fadeInMs]', '400');
        $this->waitForClip('in > 500');
        $this->set('.clip-set [name=fadeInShape]', 'slow');
        $this->waitForClip("inShape === 'slow'");
        $this->clickText('Backwards');
        $this->waitForClip('reversed');
        $this->script("document.querySelector('.clip').focus()");
        $this->keys('m');
        $this->waitForClip('muted');
        $this->keys('m');
        $this->waitForClip('!muted');
        $this->script("const s = document.querySelector('[data-repeat-clip]'); s.value = [...s.options].find((o) => o.textContent.startsWith('until Break')).value; s.dispatchEvent(new Event('change', { bubbles: true }))");
        $this->wait("document.querySelectorAll('.clip').length === 3");
        self::assertLessThanOrEqual(24 * self::BAR + 2, $this->script("return Math.max(...JSON.parse(document.querySelector('pestle-track').dataset.clips).map((c) => c.at + (c.to - c.from) * c.step))"));
        // Another order of sections takes along what lies under them.
        $places = $this->script("return JSON.parse(document.querySelector('pestle-track').dataset.clips).map((c) => c.at)");
        self::assertIsArray($places);
        $this->open('/beats/1/arrange');
        $this->script("document.querySelectorAll('.section-head')[3].focus()");
        $this->keys(WebDriverKeys::SHIFT.WebDriverKeys::ARROW_LEFT.WebDriverKeys::NULL);
        $this->wait("document.querySelector('#song-grid').dataset.song.indexOf('s4') < document.querySelector('#song-grid').dataset.song.indexOf('s3')");
        $this->open('/beats/1/arrange?view=song');
        self::assertSame(array_map(static fn (mixed $at): int => self::whole($at) - 8 * self::BAR, $places), $this->script("return JSON.parse(document.querySelector('pestle-track').dataset.clips).map((c) => c.at)"));
        $this->undo(13);
        $this->wait("document.querySelectorAll('.clip').length === 0");
        $this->assertNoErrors();
    }

    public function testFilesAreDroppedOntoTheSongAndClipsGoToOtherTracks(): void
    {
        $folder = Sounds::folder();
        WavWriter::copy(new MemorySource(Sounds::hit(1, 66150), 44100), $folder.'/Gutter.wav', SampleFormat::Int16);
        $this->bare();
        $this->drop('.time-row', $folder.'/Gutter.wav');
        $this->wait("document.querySelector('.clip[aria-current]')");
        self::assertSame('Gutter', $this->script("return document.querySelector('.clip').textContent"));
        $this->script("document.querySelector('.time-ruler').scrollIntoView()");
        $this->set('[data-repeat-clip]', '{}');
        $this->wait("document.querySelectorAll('.clip').length === 2");
        // Both chosen with Shift, both go.
        $this->script("const [one, other] = document.querySelectorAll('.clip'); other.dispatchEvent(new MouseEvent('click', { bubbles: true, cancelable: true, shiftKey: true })); one.dispatchEvent(new KeyboardEvent('keydown', { key: 'Delete', bubbles: true, cancelable: true }))");
        $this->wait("document.querySelectorAll('.clip').length === 0");
        self::assertStringContainsString('Delete 2 clips', $this->text('[data-undo]'));
        $this->undo(3);
        $this->wait("document.querySelectorAll('pestle-track').length === 0");
        $this->assertNoErrors();
    }

    /** A range that is drawn over the ruler goes round, wherever sections begin in it; typed, it is another one. */
    public function testARangeOfTheSongGoesRound(): void
    {
        $this->bare();
        /** @var array{float, float, float} $at */
        $at = array_map(static fn (mixed $v): float => is_numeric($v) ? (float) $v : 0.0, (array) $this->script("const r = document.querySelector('.time-ruler').getBoundingClientRect(); return [r.x, r.y + 10, r.width]"));
        $this->mouse('mousePressed', $at[0] + $at[2] * 11 / 36, $at[1]);
        $this->mouse('mouseMoved', $at[0] + $at[2] * 12 / 36, $at[1]);
        $this->mouse('mouseMoved', $at[0] + $at[2] * 13 / 36, $at[1]);
        $this->mouse('mouseReleased', $at[0] + $at[2] * 13 / 36, $at[1]);
        $this->wait("document.querySelector('[data-range-from]').value !== '' && !document.querySelector('#time-range').hidden");
        $this->set('[data-range-from]', '12');
        $this->set('[data-range-to]', '13.3');
        $this->keys(' ');
        $this->wait("(await player()).playing && (await player()).loop?.section === '42240-48000' && (await player()).loop.ticks === 5760 && !document.querySelector('#time-line').hidden");
        // It goes round: after its end it is at its start again.
        $this->wait('(await player()).ticks() > 4800');
        $this->wait('(await player()).ticks() < 960');
        // What plays there becomes a section, named after a sound of the beat once all usual names are taken.
        $this->keys(' ');
        $this->clickText('Make it a section');
        $this->wait("document.querySelector('.time-section[aria-current]').textContent === 'Turn'");
        self::assertStringContainsString('1.5 bars', (string) json_encode($this->script("return document.querySelector('.time-section[aria-current]').title")));
        $this->undo(1);
        $this->script("(await import('/build/js/loop-range.js')).setRange({ from: 42240, to: 48000 })");
        $this->keys(' ');
        $this->wait("(await player()).loop?.section === '42240-48000'");
        $this->clickText('The section again');
        $this->wait("(await player()).loop?.section === 's2' && document.querySelector('#time-range').hidden");
        $this->keys(' ');
        $this->assertNoErrors();
    }

    /** B: the song as it was before the last change, and back; another change ends it. */
    public function testBeforeAndAfterAreComparedByAKey(): void
    {
        $this->open('/beats/1/arrange?view=song');
        $this->script("await (await import('/build/js/changes.js')).change({ type: 'set', 'mixer/c1/gainDb': -20 }); document.activeElement.blur()");
        $this->keys(' ');
        $this->wait('(await player()).playing && !(await player()).busy && (await player()).loop?.render');
        $now = $this->script('return (await player()).loop.render');
        self::assertIsString($now);
        $this->keys('b');
        $this->wait("document.querySelector('#notice').textContent.includes('as it was before “Level of Mortar low”')");
        $this->wait("(await player()).hearing === 'before' && (await player()).loop.render !== '$now'");
        $this->keys('b');
        $this->wait("(await player()).hearing === '' && (await player()).loop.render === '$now'");
        $this->keys('b', ' ');
        $this->undo(1);
        self::assertSame('', $this->script('return (await player()).hearing'));
        $this->assertNoErrors();
    }

    /** A voice in two takes: the newer lies over the older, of which a stretch is chosen again. */
    public function testAVoiceIsRecordedInTwoTakesAndChosenFrom(): void
    {
        $this->bare();
        $this->press('.time-ruler', 4.4 / 36, shift: true);
        $this->clickText('+ recording');
        $this->wait("document.querySelector('[data-mic-arm]')");
        $this->click('[data-mic-arm]');
        $this->wait("parseFloat(document.querySelector('#mic-state').textContent.replace('peak ', '')) > -40");
        self::assertStringContainsString('as the browser says', $this->text('[data-loop-ms]'));
        foreach ([1 => 6.4, 2 => 8.4] as $take => $bar) {
            $this->click('[data-mic-record]');
            // Two bars and more of the song, however long it took to begin; the second take goes on longer than the first.
            $this->wait("document.querySelector('#mic-state').textContent.startsWith('recording') && (await player()).what === 'song' && (await player()).position() > $bar * 4 * 60 / 86 * 44100");
            $this->click('[data-mic-record]');
            $this->wait("document.querySelector('.clip[aria-current]')?.textContent === 'Voice, take $take'");
        }
        $takes = "JSON.parse(document.querySelector('pestle-track').dataset.clips)";
        self::assertSame([4 * self::BAR, 4 * self::BAR], $this->script("return $takes.map((c) => c.at)"));
        self::assertSame(['Voice, take 2'], $this->script("return $takes.filter((c) => !c.muted).map((c) => c.name)"));
        self::assertSame([0, 1], $this->script("return $takes.sort((a, b) => a.muted - b.muted).map((c) => c.row)"), 'what is silent lies below');
        // Half a second from before it began is kept, hidden.
        self::assertSame([true, true], $this->script("return $takes.map((c) => c.from > 0.3 * 44100 && c.from < 60 * 44100)"));
        // The first take again, for one bar of it.
        $this->set('[data-range-from]', '5.3');
        $this->set('[data-range-to]', '6.1');
        $this->script("[...document.querySelectorAll('.clip')].find((c) => c.textContent === 'Voice, take 1').click()");
        $this->wait("document.querySelector('.clip[aria-current]')?.textContent === 'Voice, take 1' && document.querySelector('[data-choose]')");
        $this->click('[data-choose]');
        $this->wait("$takes.filter((c) => !c.muted).length === 3");
        self::assertSame(['Voice, take 2', 'Voice, take 1', 'Voice, take 2'], $this->script("return $takes.filter((c) => !c.muted).sort((a, b) => a.at - b.at).map((c) => c.name)"));
        self::assertSame(4 * self::BAR + 1920, $this->script("return $takes.filter((c) => !c.muted).sort((a, b) => a.at - b.at)[1].at"));
        // What does not come back is said, and nothing is made up for.
        $this->click('[data-mic-loop]');
        $this->wait("document.querySelector('#notice').textContent.includes('back') && !document.querySelector('[data-mic-loop]').disabled");
        $this->script("localStorage.removeItem('pestle-loopback')");
        $this->click('[data-mic-close]');
        $this->clickText('The section again');
        $this->undo(3);
        $this->assertNoErrors();
    }

    /** Where the song begins it has no bar to come in with: one of clicks is heard, and the song begins on the beat after them. */
    public function testAtTheStartOfTheSongABarIsCountedIn(): void
    {
        $this->open('/beats/1/arrange?view=song');
        $this->wait("document.querySelector('.time-ruler')");
        $this->clickText('+ recording');
        $this->wait("document.querySelector('[data-mic-arm]')");
        $this->click('[data-mic-arm]');
        $this->wait("parseFloat(document.querySelector('#mic-state').textContent.replace('peak ', '')) > -40");
        $this->click('input[name=count]');
        // What clicks is a sound of its own, before any of the song's.
        $this->script('const start = AudioBufferSourceNode.prototype.start; window.began = []; AudioBufferSourceNode.prototype.start = function (at, ...rest) { window.began.push([at, this.buffer.duration]); return start.call(this, at, ...rest); }');
        $this->click('[data-mic-record]');
        $this->wait("(await player()).what === 'song' && (await player()).position() > 44100 && document.querySelector('#mic-state').textContent.startsWith('recording')");
        $this->click('[data-mic-record]');
        $this->wait("document.querySelector('.clip[aria-current]')?.textContent === 'Voice, take 1'");
        $began = $this->script('const clicks = window.began.slice(0, 4).map(([at]) => at); return [window.began[4][0] - clicks[0], clicks[3] - clicks[0], window.began[4][1]]');
        self::assertIsArray($began);
        [$song, $clicks, $long] = array_map(static fn (mixed $v): float => is_numeric($v) ? (float) $v : -1.0, $began);
        self::assertEqualsWithDelta(4 * 60 / 86, $song, 0.0001, 'A bar after the first click.');
        self::assertEqualsWithDelta(3 * 60 / 86, $clicks, 0.0001);
        self::assertGreaterThan(0.2, $long, 'That is a piece of the song.');
        $take = "[...document.querySelectorAll('pestle-track')].flatMap((t) => JSON.parse(t.dataset.clips)).find((c) => c.name === 'Voice, take 1')";
        self::assertSame(0, $this->script("return $take.at"));
        $from = $this->script("return $take.from");
        self::assertIsNumeric($from);
        self::assertGreaterThan(44100 * 4 * 60 / 86, (float) $from, 'What was sung while it clicked lies hidden before it.');
        $this->click('[data-mic-close]');
        $this->undoAll();
        $this->assertNoErrors();
    }

    public function testBarsOfASectionArePutInAndTakenOut(): void
    {
        $this->open('/beats/1/arrange?section=s3');
        $bars = "document.querySelector('.section-head[aria-current]').textContent";
        $this->set('[data-bars-from]', '3');
        $this->set('[data-bars-count]', '2');
        $this->click('[data-splice=insert]');
        $this->wait("$bars.includes('6 bars')");
        self::assertStringContainsString('2 bars put into Lifted', $this->text('[data-undo]'));
        $this->set('[data-bars-from]', '3');
        $this->click('[data-splice=delete]');
        $this->wait("$bars.includes('5 bars')");
        $this->click('[data-splice=copy]');
        $this->wait("$bars.includes('6 bars')");
        $this->undo(3);
        $this->wait("$bars.includes('4 bars')");
        $this->assertNoErrors();
    }

    /** The bass of one coming of a section becomes sound on a track through its own channel; it is had back at a press. */
    public function testAPartIsFixedAsSoundAndHadBack(): void
    {
        $this->open('/beats/1/arrange?view=song&section=s5');
        $before = self::whole($this->script("return document.querySelectorAll('.clip').length"));
        $this->script("const s = document.querySelector('[data-fix]'); s.value = [...s.options].find((o) => o.textContent === 'Low jar in Return').value; s.dispatchEvent(new Event('change', { bubbles: true }))");
        $this->wait("document.querySelectorAll('.clip').length === $before + 1 && document.querySelector('.time-cell[data-fixed]')");
        self::assertStringContainsString('Low jar in Return fixed as sound', $this->text('[data-undo]'));
        $this->script("[...document.querySelectorAll('.clip')].find((c) => c.textContent === 'Low jar in Return').click()");
        $this->wait("document.querySelector('.clip-set')");
        $this->clickText('Backwards');
        $this->wait("document.querySelector('.clip[aria-current]').closest('pestle-track').clips.some((c) => c.reversed)");
        $this->clickText('Play the part again');
        $this->wait("document.querySelectorAll('.clip').length === $before && !document.querySelector('.time-cell[data-fixed]')");
        $this->undo(3);
        $this->assertNoErrors();
    }

    public function testMarkersAreSetNamedMovedAndJumpedTo(): void
    {
        $this->bare();
        $this->press('.time-ruler', 12.3 / 36, shift: true);
        $this->clickText('+ marker');
        $this->wait("document.querySelector('.time-marker[aria-current]')");
        $this->set('[aria-label="Name of the marker"]', 'Rain stops');
        $this->wait("document.querySelector('.time-marker').textContent === 'Rain stops'");
        $this->set('[aria-label="Bar, beat and step of the marker"]', '21.3');
        $this->wait("JSON.parse(document.querySelector('.time-marker').dataset.marker).at === 20 * 3840 + 1920");
        $this->press('.time-ruler', 2.5 / 36, shift: true);
        $this->script('document.activeElement.blur()');
        $this->keys(WebDriverKeys::PAGE_DOWN);
        self::assertSame(20 * self::BAR + 1920, $this->script("return (await import('/build/js/song-cursor.js')).cursor()"));
        $this->clickText('Play from here');
        $this->wait("(await player()).playing && (await player()).what === 'song' && (await player()).position() > 20.4 * 4 * 60 / 86 * 44100 && (await player()).position() < 22 * 4 * 60 / 86 * 44100");
        $this->keys(' ');
        $this->script("document.querySelector('.time-marker').focus()");
        $this->keys('.');
        $this->wait("JSON.parse(document.querySelector('.time-marker').dataset.marker).at === 20 * 3840 + 2160");
        $this->set('[aria-label="Bar, beat and step of the marker"]', 'nowhere');
        $this->wait("document.querySelector('#notice').textContent.includes('A place is a bar, a beat and a step')");
        $this->script("document.querySelector('.time-marker').focus()");
        $this->keys(WebDriverKeys::DELETE);
        $this->wait("document.querySelectorAll('.time-marker').length === 0");
        $this->assertNoErrors();
    }

    /** The tempo is one of the curves: drawn by keys and numbers, heard where the song is, told by the page, taken back by name. */
    public function testTheTempoMovesAndIsPlayedByIt(): void
    {
        $this->bare();
        $length = $this->text('.line-of-time .num');
        $this->clickText('+ what moves');
        $this->wait("document.querySelectorAll('.mover').length > 12");
        $this->click('[data-let-move=tempo]');
        $this->wait("document.querySelector('pestle-moves[data-chosen]')?.dataset.lane.includes('\"path\":\"tempo\"')");
        $points = "JSON.parse(document.querySelector('pestle-moves[data-chosen]').dataset.lane).points";
        $this->script("document.querySelector('pestle-moves[data-chosen]').focus()");
        $this->keys('n');
        $this->wait("$points.length === 2");
        $this->set('[data-point-at]', '9.1.1');
        $this->wait("{$points}[1][0] === 8 * 3840");
        $this->set('[data-point-value]', '172');
        $this->wait("{$points}[1][1] === 172");
        // Gradually until there: the ninth bar begins after eight at 86 to 172, as the logarithm has it.
        $seconds = 32.0 * 60.0 / 86.0 * log(2.0);
        self::assertEqualsWithDelta($seconds, $this->script("const { framesAt } = await import('/build/js/time.js'); const { songTime } = await import('/build/js/page.js'); return framesAt(8 * 3840, songTime()) / 44100"), 1e-4);
        self::assertNotSame($length, $this->text('.line-of-time .num'));
        $this->script("await (await import('/build/js/line-of-time.js')).playFrom(12 * 3840)");
        $ticks = "(await import('/build/js/transport.js')).songPlace().ticks";
        $this->wait("(await player()).playing && $ticks > 12 * 3840");
        $at = $this->script("const { songPlace } = await import('/build/js/transport.js'); const play = await player(); const both = () => [play.position(), songPlace().ticks]; const one = both(); await new Promise((d) => setTimeout(d, 700)); const two = both(); return (two[1] - one[1]) / (two[0] - one[0]) * 44100");
        self::assertEqualsWithDelta(172 * 16, $at, 30.0, 'ticks a second');
        self::assertSame('13', strtok($this->text('#position'), '.'));
        // Another tempo while it plays: it goes on where it is in the music.
        $this->script("document.querySelector('pestle-moves[data-chosen]').focus()");
        $place = fn (): array => [self::whole($this->script("window.placed = Math.round(performance.now()); return Math.floor($ticks)")), self::whole($this->script('return window.placed'))];
        [$before, $then] = $place();
        $this->set('[data-point-value]', '86');
        $this->wait("{$points}[1][1] === 86 && (await player()).songHead === (await import('/build/js/page.js')).page().head");
        [$after, $now] = $place();
        // As far as the music goes meanwhile at one tempo and the other, however long it took.
        $least = 1.376 * ($now - $then);
        self::assertTrue($after > $before + $least - 700 && $after < $before + 2 * $least + 700, "$before to $after in ".($now - $then).' ms');
        $this->keys(' ');
        $this->undo(5);
        $this->wait("!document.querySelector('pestle-moves[data-chosen]')");
        self::assertSame($length, $this->text('.line-of-time .num'));
        $this->assertNoErrors();
    }

    /** The song of the demo, without what lies over it. */
    private function bare(): void
    {
        $this->open('/beats/1/arrange?view=song');
        $this->script("const { change } = await import('/build/js/changes.js'); for (const e of [...document.querySelectorAll('pestle-track')].map((t) => t.dataset.track)) { await change({ type: 'remove-track', track: e }); } for (const m of [...document.querySelectorAll('.time-marker')].map((m) => JSON.parse(m.dataset.marker).id)) { await change({ type: 'remove-marker', marker: m }); }");
        $this->wait("!document.querySelector('pestle-track, .time-marker')");
    }

    private function press(string $selector, float $share, bool $shift = false): void
    {
        $this->script(\sprintf("const e = document.querySelector('%s'); const r = e.getBoundingClientRect(); e.dispatchEvent(new MouseEvent('click', { bubbles: true, shiftKey: %s, clientX: r.x + r.width * %F, clientY: r.y + 5 }))", $selector, $shift ? 'true' : 'false', $share));
    }

    /** Drags the first clip, held at a share of its width, by so many ticks. */
    private function clipDragged(float $share, float $ticks): void
    {
        /** @var array{float, float, float} $at */
        $at = array_map(static fn (mixed $v): float => is_numeric($v) ? (float) $v : 0.0, (array) $this->script("const b = document.querySelector('.clip').getBoundingClientRect(); return [b.x + b.width * $share, b.y + b.height * 0.6, document.querySelector('.time-ruler').clientWidth / Number(document.querySelector('#time-rows').dataset.ticks)]"));
        $this->mouse('mousePressed', $at[0], $at[1]);
        foreach (range(1, 5) as $i) {
            $this->mouse('mouseMoved', $at[0] + $at[2] * $ticks * $i / 5, $at[1]);
        }
        $this->mouse('mouseReleased', $at[0] + $at[2] * $ticks, $at[1]);
    }

    /** What the page tells of a clip, counted in time. */
    private function clip(string $field, int $which = 0): int
    {
        return self::whole($this->script("return JSON.parse(document.querySelector('pestle-track').dataset.clips)[$which].$field"));
    }

    private function waitForClip(string $condition): void
    {
        $this->wait('(({ at, to, in: rising, inShape, reversed, muted }) => '.str_replace('in >', 'rising >', $condition).")(JSON.parse(document.querySelector('pestle-track').dataset.clips)[0])");
    }
}
