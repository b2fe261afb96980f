<?php

namespace Pestle\Tests\Browser;

use Facebook\WebDriver\WebDriverKeys;

/** Sounds made from nothing: made, shaped and played; exchanged under a part's notes; heard before they are taken. */
final class SoundTest extends PageCase
{
    /** Newer sound was asked for before it was there. */
    private const RENEWED = '~/beats/1/(?:loop|piece|spectrum|keys|pads)\b[^ ]* - Failed to load resource: the server responded with a status of 503~';
    private const WAVES = "[...document.querySelectorAll('.made-row')].map((r) => r.querySelector('b').textContent)";

    public function testABassIsMadeFromNothingShapedAndPlayed(): void
    {
        $this->open('/beats/1/sound?section=s2');
        self::assertStringContainsString('is a kit', $this->text('main h1'));
        $this->clickText('Make a new instrument');
        $this->wait("document.querySelector('.made-row') && document.querySelector('pestle-notes-seen canvas').width > 100");
        $this->wait("new URL(location.href).searchParams.get('part') === 'part-4'");
        self::assertSame(['Saw', 'Sine'], $this->script('return '.self::WAVES));
        // Its picture is drawn by what the core works out; another sound, another picture.
        $drawn = "(() => { const c = document.querySelectorAll('pestle-notes-seen canvas')[1]; return c.getContext('2d').getImageData(0, 0, c.width, c.height).data.reduce((a, b, i) => a + b * (i % 97), 0) })()";
        $this->wait("$drawn > 0");
        $before = self::whole($this->script("return $drawn"));
        // A third wave, which becomes a plucked string an octave up; the second goes.
        $this->script("const s = document.querySelector('[data-more-waves]'); s.value = [...s.options].find((o) => o.textContent === 'a wave').value; s.dispatchEvent(new Event('change', { bubbles: true }))");
        $this->wait(self::WAVES.'.length === 3');
        self::assertStringContainsString('is made of', $this->text('[data-undo]'));
        $this->script("document.querySelectorAll('.made-wave')[2].click()");
        $this->wait("document.querySelector('.what-moves [name=kind]')");
        $this->set('.what-moves [name=kind]', 'string');
        $this->wait(self::WAVES."[2] === 'Plucked string'");
        $this->set('.what-moves input[type=number][name=octave]', '1');
        $this->wait("document.querySelectorAll('.made-row')[2].textContent.includes('an octave up')");
        $this->click('[aria-label="Take Sine away"]');
        $this->wait(self::WAVES.'.length === 2');
        $this->wait("$drawn !== $before");
        // A sentence's number; what cannot be is said.
        $this->script("document.querySelector('.what-moves a.btn').click()");
        $this->wait("document.querySelector('.sentence')");
        $this->set('.sentence [name=envelopeCents]', '2400');
        $this->wait("document.querySelector('[data-undo]').textContent.includes('Envelope to the cut-off')");
        // It plays: struck by key, its sound is fetched and not silent.
        $this->script("window.struck = []; document.addEventListener('pestle:struck', (e) => window.struck.push(e.detail))");
        $this->script("document.querySelectorAll('[data-strike-note]')[1].click()");
        $this->wait("performance.getEntriesByType('resource').some((e) => e.name.includes('/keys/part-4/'))");
        // Everywhere else it is at home as well.
        foreach (['kit' => 'made of 2 waves', 'pattern' => 'What it is made of', 'mix' => '', 'arrange' => '', 'deliver' => ''] as $workspace => $words) {
            $this->open("/beats/1/$workspace?section=s2&part=part-4");
            self::assertStringContainsString($words, self::words($this->script("return document.querySelector('main').textContent.replace(/\\s+/g, ' ')")), $workspace);
        }
        $this->open('/beats/1/sound?part=part-4');
        $this->undoAll();
        $this->assertNoErrors([self::RENEWED]);
    }

    /** The bass plays the same notes on three sounds of the shelf, each heard before it is taken; one nearby, and one on the way to another. */
    public function testAPartsSoundIsHeardAndExchangedUnderItsNotes(): void
    {
        $this->open('/beats/1/pattern?section=s2&part=part-3');
        $notes = $this->script("return await rows('list')");
        self::assertIsArray($notes);
        self::assertGreaterThan(8, \count($notes));
        $this->open('/beats/1/sound?section=s2&part=part-3');
        $this->keys(' ');
        $this->wait('(await player()).playing && !(await player()).busy && (await player()).loop?.render');
        $own = self::words($this->script('return (await player()).loop.render'));
        $this->click('[aria-label="Hear Drain"]');
        $this->wait("(await player()).hearing === 'sound/part-3/shelf/drain' && (await player()).loop.render !== '$own' && document.querySelector('[aria-label=\"Hear Drain\"]').getAttribute('aria-pressed') === 'true'");
        $this->click('[aria-label="Hear Drain"]');
        $this->wait("(await player()).hearing === '' && (await player()).loop.render === '$own'");
        foreach (['Drain', 'Boiler', 'Manhole'] as $name) {
            $this->click("[aria-label=\"Take $name\"]");
            $this->wait("document.querySelector('[data-undo]').textContent.includes('$name for Low jar')");
        }
        self::assertSame(['Sine', 'Sine'], $this->script('return '.self::WAVES));
        $length = static fn (string $word): string => "const s = document.querySelector('.at-hand [name=long]'); s.value = '$word'; s.dispatchEvent(new Event('input', { bubbles: true }))";
        $this->script($length('short'));
        $this->wait("new URL(location.href).searchParams.get('long') === 'short' && document.querySelectorAll('.shelf-sound').length > 5 && document.querySelectorAll('.shelf-sound').length < 40 && !document.querySelector('.at-hand').textContent.includes('Cellar jar')");
        $this->script($length(''));
        $this->wait("document.querySelectorAll('.shelf-sound').length > 70");
        $this->clickText('Nearby');
        $this->wait("document.querySelector('.nearby')?.children.length === 8");
        $this->click('[aria-label="Hear Dirtier"]');
        $this->wait("(await player()).hearing === 'sound/part-3/near/dirtier'");
        $this->click('[aria-label="Take Dirtier"]');
        $this->wait("document.querySelector('[data-undo]').textContent.includes('Dirtier for Low jar') && (await player()).hearing === ''");
        $this->set('[data-toward]', 'tin-flute');
        $this->click('[data-take-toward]');
        $this->wait("document.querySelector('[data-undo]').textContent.includes('Toward Tin flute for Low jar')");
        $this->keys(' ');
        $this->open('/beats/1/pattern?section=s2&part=part-3');
        self::assertSame($notes, $this->script("return await rows('list')"), 'the notes stay');
        $this->open('/beats/1/sound?section=s2&part=part-3&search=nothing+like+it');
        $this->wait("document.querySelector('.at-hand').textContent.includes('No sound of the shelf is called so')");
        $this->undoAll();
        $this->wait("document.querySelector('.made-of').textContent.includes('plays recordings')");
        $this->assertNoErrors([self::RENEWED]);
    }

    /** Three sounds under the bass: each over its own keys, one heard alone, moved by its notes, given a part of its own; and back. */
    public function testSoundsAreStacked(): void
    {
        $this->open('/beats/1/sound?section=s2&part=part-3');
        $stack = "[...document.querySelectorAll('.stacked b')].map((b) => b.textContent).join(', ')";
        // Heard on top before it is put there.
        $this->script("document.querySelector('[aria-label=\"Hear Drain\"]').dispatchEvent(new MouseEvent('click', { bubbles: true, shiftKey: true }))");
        $this->wait("(await player()).hearing === 'stacked/part-3/shelf/drain' && document.querySelector('[aria-label=\"Hear Drain\"]').ariaPressed === 'true'");
        $this->script('(await player()).stop()');
        $this->click('[aria-label="Put Drain on top"]');
        $this->wait("$stack === 'Low jar, Drain'");
        $this->click('[aria-label="Put Spoon drawer on top"]');
        $this->wait("$stack === 'Low jar, Drain, Spoon drawer'");
        // Its place by sliders.
        $this->script("document.querySelectorAll('.stacked a')[2].click()");
        $this->wait("new URL(location.href).searchParams.get('stacked') === '2' && document.querySelectorAll('.made-row').length > 1");
        $this->script("document.querySelectorAll('.stacked a')[2].click()");
        $this->wait("document.querySelector('.what-moves h2').textContent === 'Its place'");
        $this->set('.what-moves input[type=number][name=low]', '48');
        $this->wait("document.querySelectorAll('.stacked li')[2].textContent.includes('from C3')");
        $this->set('.what-moves input[type=number][name="fadeKeys"]', '6');
        $this->wait("document.querySelector('[data-undo]').textContent.includes('Fades over of')");
        // One alone, for as long as it is pressed; one silent.
        $this->keys(' ');
        $this->wait('(await player()).playing && !(await player()).busy && (await player()).loop?.render');
        $all = self::words($this->script('return (await player()).loop.render'));
        $this->click('[aria-label="Hear only Drain"]');
        $this->wait("(await player()).hearing === 'alone/part-3/1' && (await player()).loop.render !== '$all'");
        $this->click('[aria-label="Hear only Drain"]');
        $this->wait("(await player()).hearing === '' && (await player()).loop.render === '$all'");
        $this->click('[aria-label="Drain silent"]');
        $this->wait("document.querySelector('[aria-label=\"Drain silent\"]').ariaPressed === 'true' && (await player()).loop.render !== '$all'");
        $this->keys(' ');
        // What its notes move, as a sentence, changed and taken away.
        $this->script("document.querySelectorAll('.stacked a')[1].click()");
        $this->wait("document.querySelector('.made-row') && document.querySelector('[data-route-to]')");
        $this->script("document.querySelector('[data-route-by]').value = 'chance'; const s = document.querySelector('[data-route-to]'); s.value = 'filter/cutoffHz'; s.dispatchEvent(new Event('change', { bubbles: true }))");
        $this->wait("document.querySelector('[data-route]')?.textContent.includes('Chance moves the cut-off')");
        $this->set('[data-route-amount]', '-45');
        $this->wait("document.querySelector('[data-route-amount]').value === '-45' && !document.querySelector('[data-save]')?.textContent.includes('…')");
        $this->click('[data-drop-route]');
        $this->wait("!document.querySelector('[data-route]')");
        // A part of its own, with the same notes.
        $this->script("document.querySelectorAll('.stacked a')[1].click()");
        $this->wait("document.querySelector('.what-moves h2').textContent === 'Its place'");
        $this->clickText('Own part');
        $this->wait("$stack === 'Low jar, Spoon drawer'");
        $this->open('/beats/1/pattern?section=s2&part=part-3');
        $notes = $this->script("return (await rows('list')).map((n) => n.slice(0, 2))");
        $this->open('/beats/1/pattern?section=s2&part=part-4');
        self::assertStringContainsString('Drain', $this->text('main'));
        self::assertSame($notes, $this->script("return (await rows('list')).map((n) => n.slice(0, 2))"));
        $this->open('/beats/1/sound?section=s2&part=part-3');
        $this->undoAll();
        $this->wait("!document.querySelector('.stacked')");
        $this->assertNoErrors([self::RENEWED]);
    }

    /** The bass is played on the kit: what becomes of each note is told and heard before, and what finds no sound is kept. */
    public function testABassIsPlayedOnAKit(): void
    {
        $this->open('/beats/1/pattern?section=s2&part=part-3');
        $notes = self::whole($this->script("return (await rows('list')).length"));
        $this->open('/beats/1/sound?section=s2&part=part-3');
        $this->script("const s = [...document.querySelectorAll('select[data-go]')].find((e) => e.ariaLabel.includes('on another sound')); s.value = [...s.options].find((o) => o.textContent === 'the kit of Stall').value; s.dispatchEvent(new Event('change', { bubbles: true }))");
        $this->wait("document.querySelectorAll('.told li').length === 10");
        $told = "[...document.querySelectorAll('.told li')].map((r) => [...r.children].map((c) => c.textContent.trim()).join(' '))";
        $rows = (array) $this->script("return $told");
        self::assertContains('D2 6 × Rice shaker', $rows);
        self::assertContains('G1 5 × silent', $rows);
        self::assertStringContainsString('17 notes find no sound: kept where they are', $this->text('.at-hand'));
        $this->keys(' ');
        $this->wait('(await player()).playing && !(await player()).busy && (await player()).loop?.render');
        $own = self::words($this->script('return (await player()).loop.render'));
        $this->clickText('▸ Hear it');
        $this->wait("(await player()).hearing === 'exchanged/part-3/part-1' && (await player()).loop.render !== '$own'");
        $this->clickText('Play it on this');
        $this->wait("document.querySelector('[data-undo]').textContent.includes('Kit of Stall under Low jar') && document.querySelector('main h1')?.textContent === 'Low jar is a kit' && (await player()).hearing === ''");
        $this->keys(' ');
        $this->open('/beats/1/pattern?section=s2&part=part-3');
        self::assertSame($notes, $this->script("return (await rows('hits')).length"));
        $this->undo(1);
        $this->wait("document.querySelector('pestle-notes')");
        self::assertSame($notes, $this->script("return (await rows('list')).length"));
        $this->assertNoErrors([self::RENEWED]);
    }

    /** A made sound is kept, changed and kept again, taken up in another part, carried out as SFZ and brought in. */
    public function testASoundIsKeptTakenUpAndCarriedOutAndIn(): void
    {
        $this->open('/beats/1/sound?section=s2&part=part-3');
        $this->click('[aria-label="Take Boiler"]');
        $this->wait("document.querySelector('[data-undo]').textContent.includes('Boiler for Low jar')");
        $this->clickText('Kept');
        $this->wait("document.querySelector('.shelf')?.textContent.includes('Save this sound to have it in any beat')");
        $this->script("document.querySelector('[data-shelf-save] [name=name]').value = 'Own boiler'; document.querySelector('[data-shelf-save] button').click()");
        $this->wait("document.querySelector('.shelved')?.textContent.includes('Own boiler') && document.querySelector('main').textContent.includes('as saved')");
        $this->script("await (await import('/build/js/changes.js')).change({ type: 'set', 'part/part-3/waves/0/octave': -2 })");
        $this->wait("[...document.querySelectorAll('button')].some((b) => b.textContent === 'Save as version 2' && !b.disabled)");
        $this->clickText('Save as version 2');
        $this->wait("document.querySelector('main').textContent.includes('version 2') && document.querySelector('main').textContent.includes('as saved')");
        $this->clickText('New instrument');
        $this->wait("new URL(location.href).searchParams.get('part') === 'part-4'");
        $this->script("location.href = '/beats/1/sound?section=s2&part=part-4&side=shelf'");
        $this->wait("document.querySelector('.shelved')");
        $this->clickText('Load');
        $this->wait("document.querySelector('[data-undo]').textContent.includes('Own boiler under')");
        self::assertStringContainsString('2 octaves down', $this->text('.made-of'));
        // Its notes are recorded for it beside the page, which takes a while.
        $this->click('.shelved a[download]');
        $this->wait("document.querySelector('#notice').textContent.includes('Own boiler is packed.')");
        $this->script("fetch(document.querySelector('.shelved a[download]').href).then((answer) => answer.blob()).then((zip) => { window.zip = zip; })");
        $this->wait('window.zip');
        self::assertGreaterThan(100_000, $this->script("const d = new DataTransfer(); d.items.add(new File([window.zip], 'Out and in.zip')); const input = document.querySelector('[data-shelf-in]'); input.files = d.files; input.dispatchEvent(new Event('change', { bubbles: true })); return window.zip.size"));
        $this->wait("document.querySelectorAll('.shelved').length === 2");
        $this->click('.shelved:not(:first-child) [hx-post]');
        $this->wait("document.querySelector('.made-of').textContent.includes('recorded notes')");
        $this->undoAll();
        $this->assertNoErrors([self::RENEWED]);
    }

    public function testPartialsAreDrawnByKeys(): void
    {
        $this->open('/beats/1/sound?section=s2&part=part-3');
        $drawn = "document.querySelector('pestle-notes-seen canvas').toDataURL()";
        $this->wait("$drawn.length > 3000");
        $this->script("window.drawn = $drawn");
        $this->click('[data-theme-switch]');
        $this->wait("$drawn !== window.drawn");
        $this->click('[data-theme-switch]');
        $this->wait("$drawn === window.drawn");
        $this->script("const s = document.querySelector('[data-more-waves]'); s.value = [...s.options].find((o) => o.textContent === 'drawn partials').value; s.dispatchEvent(new Event('change', { bubbles: true }))");
        $this->wait(self::WAVES.'.length === 1');
        self::assertStringContainsString('recorded notes and waves', $this->text('main'));
        $this->script("document.querySelector('.made-wave').click()");
        $this->wait("document.querySelector('pestle-partials i')");
        $this->script("document.querySelector('pestle-partials').focus()");
        $this->keys(WebDriverKeys::ARROW_RIGHT, WebDriverKeys::ARROW_UP);
        $this->wait("JSON.parse(document.querySelector('pestle-partials').dataset.waves)[0].partials[1] === 0.55");
        $this->undoAll();
        $this->assertNoErrors([self::RENEWED]);
    }

    /** A drum is made, heard, another one like it put on a pad; then a kit of sixteen at a press, each by its role. */
    public function testDrumsAreMade(): void
    {
        $this->open('/beats/1/kit?section=s2&pad=a1&side=made');
        $this->script("window.heard = 0; document.addEventListener('pestle:drum', () => { window.heard += 1; })");
        $set = "JSON.parse(localStorage.getItem('pestle-drums') ?? '{}').snare";
        $this->wait("$set?.seed && document.querySelector('[data-drum=wires]').value !== ''");
        self::assertSame('snare', $this->script("return document.querySelector('[data-drum=role]').value"), 'as the pad is');
        $this->click('[data-drum-hear]');
        $this->wait('window.heard === 1');
        $this->set('[data-drum=tune]', '-7');
        $this->wait("window.heard === 2 && $set.tune === -7");
        $seed = self::whole($this->script("return $set.seed"));
        $this->clickText('Another like it');
        $this->wait("window.heard === 3 && $set.seed !== $seed && Math.abs($set.tune + 7) <= 1.5");
        $this->clickText('On Tin snare');
        $this->wait("document.querySelector('[data-undo]').textContent.includes('Snare ')");
        self::assertMatchesRegularExpression('/^Snare\s\d{1,3}\s/', $this->text('.dock #pad-a1'));
        // The pad keeps what it was made by: elsewhere, where nothing was set, it is gone on from.
        $this->script("localStorage.removeItem('pestle-drums')");
        $this->open('/beats/1/kit?section=s2&pad=a1&side=made');
        $this->wait("Math.abs(Number(document.querySelector('[data-drum=tune]').value) + 7) <= 1.5 && $set.seed !== $seed");
        $this->undo(1);
        $this->clickText('On free pads');
        $this->wait("document.querySelector('[data-undo]').textContent.includes('16 sounds on pads') && document.querySelector('.dock #pad-a1').textContent.includes('Tin snare')");
        $this->undo(1);
        $this->set('[data-drum-shelf]', 'matchbox');
        $this->clickText('In place of this bank');
        $named = static fn (string $role): string => "[...document.querySelectorAll('.dock .pad')].filter((p) => /^$role \\d{1,3}, key/.test(p.ariaLabel)).length";
        $this->wait($named('[A-Z][a-z ]+').' === 16');
        self::assertSame(1, $this->script('return '.$named('Cymbal')));
        $this->undo(1);
        $this->wait("document.querySelector('.dock #pad-a1').textContent.includes('Tin snare')");
        $this->script("localStorage.removeItem('pestle-drums')");
        $this->assertNoErrors([self::RENEWED]);
    }

    private static function words(mixed $value): string
    {
        return \is_string($value) ? $value : '';
    }
}
