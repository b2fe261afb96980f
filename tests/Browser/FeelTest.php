<?php

namespace Pestle\Tests\Browser;

use Facebook\WebDriver\WebDriverKeys;
use Pestle\Core\Theory\Swing;

/** From stiff steps to a groove: by steps, played in live, from a recording, from a MIDI file. */
final class FeelTest extends PageCase
{
    private const UNDO = "document.querySelector('[data-undo]').textContent";
    private const HITS = "(await rows('hits'))";

    /** What the page draws and rolls is what is rendered: for every tick, every swing, by both rules. */
    public function testThePageSwingsAsTheCoreDoes(): void
    {
        $this->open('/beats/1/pattern');
        $this->wait("document.querySelector('pestle-lanes')");
        foreach ([240, 480] as $on) {
            foreach ([50.0, 58.3, 66.7, 75.0] as $percent) {
                $page = (array) $this->script("const { swung } = await import('/build/js/swing.js'); return [1, 2].map((rules) => Array.from({ length: 960 }, (_, tick) => swung(tick, { swing: $percent, swingOn: $on, rules })))");
                $swing = Swing::percent($percent, $on);
                self::assertEqualsWithDelta(array_map($swing->sounding(...), range(0, 959)), $page[0], 0.5001);
                self::assertEqualsWithDelta(array_map(static fn (int $tick): float => $swing->at($tick), range(0, 959)), $page[1], 1e-6);
            }
        }
        self::assertSame([58, 240, 2], $this->script("const { page } = await import('/build/js/page.js'); const { swing, swingOn, rules } = page(); return [swing, swingOn, rules]"));
    }

    public function testAGrooveByStepsFromNothing(): void
    {
        $this->open('/beats/1/pattern?section=s2');
        $this->wait("document.querySelector('pestle-lanes')");
        $this->clickText('New');
        $this->wait(self::HITS.'?.length === 0');
        // Lanes are filled: the bass drum on every beat, the hat on every second step with accents.
        $this->click('[aria-label="Lane of Mortar low"]');
        $this->wait("document.querySelector('[data-lane-tools]')");
        $this->set('#lane-every', '4');
        $this->click('[data-lane-do=fill]');
        $this->wait(self::HITS.'.length === 8');
        $this->click('[aria-label="Lane of Rice shaker"]');
        $this->wait("document.querySelector('.lane-head[data-chosen] .lane-name').textContent === 'Rice shaker'");
        $this->set('#lane-every', '2');
        $this->click('[data-lane-do=fill]');
        $this->wait(self::HITS.'.length === 24');
        $this->click('[data-lane-do=later]');
        $this->wait(self::HITS.".some((h) => h[1] === 'a2' && h[0] === 240)");
        $this->set('#lane-every', '4');
        $this->click('[data-lane-do=accents]');
        $this->wait(self::UNDO.".includes('Accents in Rice shaker')");
        // Another sound in place; its hits stay.
        $this->script("const s = document.querySelector('[data-lane-sound]'); s.value = [...s.options].find((o) => o.textContent === 'Steam hat').value; s.dispatchEvent(new Event('change', { bubbles: true }))");
        $this->wait("document.querySelector('.lane-head[data-chosen] .lane-name').textContent === 'Steam hat'");
        $this->click('[data-undo]');
        $this->wait("document.querySelector('.lane-head[data-chosen] .lane-name').textContent === 'Rice shaker'");
        // The hat goes round in three quarters of a bar, with a swing of its own; the kick stays straight.
        $this->set('[data-lane-steps]', '12');
        $this->wait("JSON.parse(document.querySelector('pestle-lanes').dataset.lanes).find((l) => l.name === 'Rice shaker').ticks === 2880");
        $this->set('input[type=number][name=swing]', '64');
        $this->wait("document.querySelector('.felt[aria-current]').textContent.includes('64 % on 1/16') && document.querySelector('[aria-label=Feel]').textContent.includes('Its own.')");
        $this->wait("(await rows('felt')).length === 16 && (await rows('felt')).every((f) => f[1] === 'a2')");
        $this->click('.felt-panel .seg.links a:first-child');
        $this->wait("document.querySelector('.felt').textContent.includes('straight')");
        // A groove over the pattern is compared with what is written by one key, and written in.
        $this->click('.felt[href*="feel=groove"]');
        $this->wait("document.querySelector('select[name=groove]')");
        $this->set('select[name=groove]', 'cobbles');
        $this->wait("(await rows('felt')).some((f) => f[1] === 'a0' && f[2] !== f[0])");
        $this->keys('b');
        $this->wait("document.querySelector('[data-compare]').getAttribute('aria-pressed') === 'true'");
        $this->keys('b');
        $this->wait("document.querySelector('[data-compare]').getAttribute('aria-pressed') === 'false'");
        $this->clickText('Write in');
        $this->wait(self::HITS.".some((h) => h[1] === 'a0' && (h[0] % 240 !== 0 || h[5] > 0)) && document.querySelector('.felt[aria-current]').textContent.includes('none')");
        // Smaller steps, a hit of four strikes, an accent, by keys.
        $this->set('#lanes-step', '160');
        $this->script("document.querySelector('pestle-lanes').focus()");
        $this->keys(WebDriverKeys::ARROW_DOWN, WebDriverKeys::ARROW_RIGHT, WebDriverKeys::ARROW_RIGHT, 'x');
        $this->wait(self::HITS.".some((h) => h[1] === 'a1' && h[0] === 320 && h[3] === 160)");
        $this->keys('t');
        $this->wait(self::HITS.".some((h) => h[1] === 'a1' && h[2] === 124)");
        $this->script("document.querySelector('pestle-lanes').dispatchEvent(new KeyboardEvent('keydown', { code: 'Digit4', key: '$', shiftKey: true, bubbles: true }))");
        $this->wait(self::HITS.".some((h) => h[1] === 'a1' && h[8] === 4)");
        // Several hits are chosen by a frame, moved, felt apart, and taken out: each one step back.
        $this->script("const c = document.querySelector('pestle-lanes').shadowRoot.querySelector('canvas'); const { x, y, width } = c.getBoundingClientRect(); const at = (type, dx, dy) => c.dispatchEvent(new PointerEvent(type, { clientX: x + dx, clientY: y + dy, shiftKey: true, pointerId: 1, bubbles: true })); at('pointerdown', 4, 22); at('pointermove', width / 4, 30); at('pointermove', width / 2 - 4, 50); at('pointerup', width / 2 - 4, 50)");
        self::assertSame('4 hits', $this->text('#hits-chosen output'));
        $this->script("document.querySelector('pestle-lanes').dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowRight', code: 'ArrowRight', altKey: true, bubbles: true }))");
        $this->wait(self::UNDO.".includes('Move Mortar low')");
        self::assertSame('4 hits', $this->text('#hits-chosen output'));
        $moved = $this->script('return '.self::HITS.".filter((h) => h[1] === 'a0').map((h) => h[0] + h[5] / 256)");
        $this->click('[data-hits-do=apart]');
        $this->wait("document.querySelector('.felt-panel .seg [aria-current]').textContent === 'Hits 1' && ".self::UNDO.".includes('4 hits felt apart')");
        $this->click('.felt[href*="feel=time"]');
        $this->wait("document.querySelector('input[type=number][name=shiftTicks]')");
        $this->set('input[type=number][name=shiftTicks]', '50');
        $this->wait("(await rows('felt')).filter((f) => f[1] === 'a0').length === 4");
        self::assertSame($moved, $this->script('return '.self::HITS.".filter((h) => h[1] === 'a0').map((h) => h[0] + h[5] / 256)"), 'What is written stays.');
        $this->clickText('With the rest again');
        $this->wait("!(await rows('felt')).some((f) => f[1] === 'a0') && !document.querySelector('.felt-panel .seg').textContent.includes('Hits')");
        $this->click('[data-hits-do=remove]');
        $this->wait(self::HITS.".filter((h) => h[1] === 'a0').length === 4");
        self::assertFalse($this->element('#hits-chosen')->isDisplayed());
        $this->assertNoErrors();
    }

    public function testPatternsAreComparedColouredAndSwitchedAtTheNextBar(): void
    {
        $this->open('/beats/1/pattern?section=s5');
        $this->wait("document.querySelector('pestle-lanes') && (await player()).loop");
        $this->clickText('Duplicate');
        $this->wait("document.querySelector('pestle-lanes').dataset.compares !== '' && document.querySelector('section[aria-label=Steps] input[name=name]').value.endsWith(' copy')");
        $this->clickStep(4, 3);
        $this->wait(self::UNDO.".includes('Place Hands')");
        // What differs from the one it was made of is drawn; only that is another colour now.
        self::assertSame(1, $this->script('const there = new Set((await rows("beside")).map((h) => `${h[0]} ${h[1]}`)); return '.self::HITS.'.filter((h) => !there.has(`${h[0]} ${h[1]}`)).length'));
        $this->set('select[name=colour]', 'paprika');
        $this->wait("document.querySelector('.part-row[data-chosen] .strip-print.c-paprika')");
        // While it plays, another pattern begins with a bar, and another section with its start.
        $this->keys(' ');
        $this->wait('(await player()).ticks() > 300');
        $this->script("const { player } = await import('/build/js/audio/player.js'); window.switched = []; player.addEventListener('loop', () => window.switched.push([player.loop.section, player.loop.plays, player.position(), player.loop.frames / player.loop.ticks * 3840]))");
        $this->set('.part-row[data-chosen] select[name=pattern]', 'p1');
        $this->wait('window.switched.length === 1');
        $bar = $this->script('const [, , at, bar] = window.switched[0]; return Math.min(((at % bar) + bar) % bar, bar - ((at % bar) + bar) % bar) / 44100');
        self::assertLessThan(0.15, $bar, 'it changed at a bar');
        $this->click('.choice[href*="section=s2"]');
        $this->wait("window.switched.length === 2 && window.switched[1][0] === 's2'");
        self::assertLessThan(0.15 * 44100, $this->script('return Math.abs(window.switched[1][2])'), 'from its start');
        $this->keys(' ');
        $this->assertNoErrors();
    }

    public function testPlayedInWithATakeBackErasedAndKept(): void
    {
        $this->open('/beats/1/pattern?section=s3');
        $this->wait("document.querySelector('pestle-lanes')");
        $this->script("document.querySelector('#recording summary').click()");
        $this->script("const set = (name, value) => { const c = document.querySelector(`[data-rec=\${name}]`); c.value = value; c.dispatchEvent(new Event('change', { bubbles: true })); }; set('strength', 0); set('countIn', 0); set('click', 'glass'); document.querySelector('[data-rec=mode][value=overdub]').click()");
        self::assertSame('as played', $this->text('.rec-row output'));
        $this->wait('(await player()).loop');
        $rings = $this->script('return '.self::HITS.".filter((h) => h[1] === 'a9').length");
        \assert(\is_int($rings));
        // Played without recording, then kept: it lies where it was played.
        $this->keys(' ');
        $this->wait('(await player()).ticks() > 300');
        $this->keys('s');
        $this->wait('(await player()).ticks() > 900');
        $this->keys('s');
        $this->wait('(await player()).ticks() > 1500');
        $this->keys('h');
        $this->wait(self::UNDO.".includes('Recorded 2 hits')");
        self::assertStringContainsString('Kept 2 hits', $this->text('#notice'));
        $this->wait(self::HITS.".filter((h) => h[1] === 'a9').length === ".($rings + 2));
        self::assertGreaterThan(200, $this->script('const t = '.self::HITS.".filter((h) => h[1] === 'a9').map((h) => h[0]); return Math.max(...t) - Math.min(...t)"));
        $this->keys(WebDriverKeys::BACKSPACE);
        $this->wait(self::HITS.".filter((h) => h[1] === 'a9').length === $rings");
        // A pass in the place of what the pad had.
        $this->script("document.querySelector('[data-rec=mode][value=replace]').click()");
        $before = $this->script('return '.self::HITS.".filter((h) => h[1] === 'a1').length");
        \assert(\is_int($before));
        $this->click('[data-record]');
        $this->wait('(await player()).ticks() > 300 && (await player()).ticks() < 2000');
        $this->keys('w');
        $this->click('[data-record]');
        $this->wait(self::HITS.".filter((h) => h[1] === 'a1').length === 1");
        self::assertGreaterThan(1, $before);
        $this->keys(WebDriverKeys::BACKSPACE);
        $this->wait(self::HITS.".filter((h) => h[1] === 'a1').length === $before");
        // Erase: what a held pad plays goes, and only while it is held.
        $all = $this->script('return '.self::HITS.".filter((h) => h[1] === 'a2').length");
        $this->keys('g');
        $this->wait("document.querySelector('[data-erase]').getAttribute('aria-pressed') === 'true'");
        $this->wait('(await player()).ticks() > 100 && (await player()).ticks() < 1500');
        $this->script("document.body.dispatchEvent(new KeyboardEvent('keydown', { code: 'KeyE', key: 'e', bubbles: true }))");
        $this->wait("document.querySelector('#pad-a2').hasAttribute('data-erasing')");
        $this->wait('(await player()).ticks() > 3000');
        $this->script("document.body.dispatchEvent(new KeyboardEvent('keyup', { code: 'KeyE', key: 'e', bubbles: true }))");
        $this->wait(self::UNDO.".includes('Erased Rice shaker')");
        $left = $this->script('return '.self::HITS.".filter((h) => h[1] === 'a2').length");
        self::assertLessThan($all, $left);
        self::assertGreaterThan(0, $left);
        $this->keys('g', ' ');
        // How late what is played arrives, by tapping along with eight clicks, each 40 ms late.
        $this->script("document.querySelector('[data-rec-measure]').click(); const { audio, heardAt } = await import('/build/js/audio/context.js'); const { tapAlong } = await import('/build/js/transport.js'); await new Promise((r) => setTimeout(r, 300)); const from = window.performance.now(); for (let i = 0; i < 8; i += 1) { await new Promise((r) => setTimeout(r, 600)); tapAlong(performance.now()); }");
        $this->wait("/arrives -?\\d+ ms late/.test(document.querySelector('#notice').textContent)");
        self::assertSame($this->script("return Number(/arrives (-?\\d+) ms/.exec(document.querySelector('#notice').textContent)[1])"), $this->script("return (await import('/build/js/recording.js')).recording.latency"));
        $this->assertNoErrors(['422']);
    }

    public function testAGrooveOfARecordingALineOfAChordLoopAndAMidiFile(): void
    {
        $this->open('/beats/1/pattern?section=s3&feel=groove');
        $this->wait("document.querySelector('[data-groove-from]')");
        // The chords' own timing is laid on the drums; it is kept on the shelf and is there in another beat.
        $this->script("const s = document.querySelector('[data-groove-from]'); s.value = [...s.options].find((o) => o.textContent === 'Old piano loop').value; s.dispatchEvent(new Event('change', { bubbles: true }))");
        $this->wait("document.querySelector('#notice').textContent.includes('The groove of Old piano loop') && document.querySelector('select[name=groove]').selectedOptions[0].textContent === 'Old piano loop'");
        $played = $this->script("const hash = [...document.querySelectorAll('[data-groove-from] option')].find((o) => o.textContent === 'Old piano loop').value; return (await (await fetch(`/beats/1/groove/\${hash}`)).json()).played");
        self::assertIsArray($played);
        // Each hit at a place where the loop has one is heard within 3 ms of it: 4 ticks at 86 BPM.
        $this->click('.felt[href*="feel=swing"]');
        $this->wait("document.querySelector('input[type=number][name=swing]')");
        $this->set('input[type=number][name=swing]', '50');
        $this->wait(self::UNDO.".includes('Swing 50')");
        $near = $this->script('const felt = await rows("felt"); const played = '.json_encode($played, \JSON_THROW_ON_ERROR).'; let worst = 0, count = 0; for (const [tick, , heard] of felt) { const at = played.filter(([t]) => Math.round(t / 240) * 240 === tick); if (at.length) { count += 1; worst = Math.max(worst, Math.min(...at.map(([t]) => Math.abs(t - heard)))); } } return [count, worst];');
        self::assertIsArray($near);
        self::assertGreaterThan(0, $near[0]);
        self::assertLessThan(4.0, $near[1]);
        $this->click('.felt[href*="feel=groove"]');
        $this->wait("document.querySelector('[data-groove-keep]')");
        $this->click('[data-groove-keep]');
        $this->wait("document.querySelector('#notice').textContent.includes('is on the shelf')");
        $this->open('/');
        $this->clickText('New beat');
        $this->wait("location.pathname.startsWith('/beats/') && document.querySelector('#pad-a0')");
        $this->script("location.href = location.pathname.replace(/[a-z]+$/, 'pattern') + '?feel=groove'");
        $this->wait("[...document.querySelectorAll('[data-groove-from] optgroup option')].some((o) => o.textContent === 'Old piano loop')");
        // From a MIDI file as well; what is none is told.
        $this->open('/beats/1/pattern?section=s3&feel=groove');
        $this->wait("document.querySelector('[data-groove-file]')");
        $this->script("const file = await (await fetch('/beats/1/midi/s3.mid')).blob(); const d = new DataTransfer(); d.items.add(new File([file], 'Late night.mid')); const i = document.querySelector('[data-groove-file]'); i.files = d.files; i.dispatchEvent(new Event('change', { bubbles: true }))");
        $this->wait("document.querySelector('#notice').textContent.includes('The groove of Late night') && document.querySelector('select[name=groove]').selectedOptions[0].textContent === 'Late night'");
        $this->script("const d = new DataTransfer(); d.items.add(new File(['nothing'], 'Not.mid')); const i = document.querySelector('[data-groove-file]'); i.files = d.files; i.dispatchEvent(new Event('change', { bubbles: true }))");
        $this->wait("document.querySelector('#notice').textContent.includes('Not.mid is no Standard MIDI File')");
        // The lowest notes of the chord loop become a line for the bass.
        $this->open('/beats/1/chop?tool=notes');
        $this->wait("document.querySelector('[data-phrase-said]')?.textContent.includes('notes are taken')");
        $this->set('[data-phrase-set=keep]', 'lowest');
        $this->set('[data-phrase-set=grid]', '240');
        $this->wait("/^([1-9]\\d*) of (\\d+) notes/.test(document.querySelector('[data-phrase-said]').textContent) && Number(RegExp.\$1) < Number(RegExp.\$2)");
        $this->clickText('Make a pattern');
        $this->wait("location.pathname.endsWith('/pattern') && (await rows('list'))?.length > 3");
        self::assertTrue($this->script("return (await rows('list')).every((n) => n[0] % 240 === 0)"));
        $this->clickText('−12');
        $this->wait(self::UNDO.".includes('Transpose')");
        $this->set('[data-notes-shape]', 'legato');
        $this->wait(self::UNDO.".includes('Legato for')");
        // Chosen notes are felt apart: later by so much, what is written stays, and with the rest again.
        $this->script("const n = document.querySelector('pestle-notes'); n.focus(); n.dispatchEvent(new KeyboardEvent('keydown', { key: 'a', code: 'KeyA', bubbles: true }))");
        $this->set('[data-notes-shape]', 'apart');
        $this->wait(self::UNDO.".includes('notes felt apart') && document.querySelector('.felt-panel .seg [aria-current]')?.textContent === 'Notes 1'");
        $this->click('.felt[href*="feel=time"]');
        $this->wait("document.querySelector('input[type=number][name=shiftTicks]')");
        $this->set('input[type=number][name=shiftTicks]', '30');
        $this->wait("(await rows('felt')).length > 0 && (await rows('felt')).every(([tick, , heard]) => Math.abs(heard - tick - 30) < 0.2)");
        self::assertTrue($this->script("return (await rows('list')).every((n) => n[0] % 240 === 0 && n[7] === 'notes-1')"));
        $this->clickText('With the rest again');
        $this->wait(self::UNDO.".includes('felt with the rest') && (await rows('list')).every((n) => n.length < 8)");
        // Out as a MIDI file, and in again as a section of its own.
        $name = $this->script("return [...document.querySelectorAll('.choice')].find((c) => c.href.includes('section=s3')).querySelector('.truncate').textContent");
        self::assertIsString($name);
        $before = $this->script("return [...document.querySelectorAll('.choice')].filter((c) => c.querySelector('.truncate')?.textContent === '$name').length");
        self::assertIsInt($before);
        $this->script("const file = await (await fetch('/beats/1/midi/s3.mid')).blob(); const d = new DataTransfer(); d.items.add(new File([file], 'Night.mid')); const i = document.querySelector('[data-midi-in]'); i.files = d.files; i.dispatchEvent(new Event('change', { bubbles: true }))");
        $this->wait("document.querySelector('#notice').textContent.includes('Night.mid is in a section of its own')");
        // It has the name that the file says.
        $this->wait("[...document.querySelectorAll('.choice')].filter((c) => c.querySelector('.truncate')?.textContent === '$name').length === $before + 1");
        $this->script("const d = new DataTransfer(); d.items.add(new File(['nothing'], 'Not.mid')); const i = document.querySelector('[data-midi-in]'); i.files = d.files; i.dispatchEvent(new Event('change', { bubbles: true }))");
        $this->wait("document.querySelector('#notice').textContent.includes('Not.mid is no Standard MIDI File')");
        // A drum pattern is heard under what plays before it is laid on.
        $this->open('/beats/1/pattern?section=s3&part=part-1');
        $this->wait("document.querySelector('[data-ready]')");
        $this->click('[data-ready*=boiler]');
        $this->wait("document.querySelector('[data-ready*=boiler]').getAttribute('aria-pressed') === 'true' && (await player()).playing");
        $this->click('[aria-label="Lay Boiler on"]');
        $this->wait("document.querySelector('#notice').textContent.includes('Boiler is laid on') && ".self::HITS.'.length > 30');
        $this->assertNoErrors(['422', '/pads/', '/keys/', '/phrase/']);
    }
}
