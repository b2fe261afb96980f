<?php

namespace Pestle\Tests\App;

use Pestle\App\Storage\Beats;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Changes;

/** What a page holds is not sent again: the answer to a change, put on what the page had, is the page as it is. */
final class HeldTest extends AppCase
{
    public function testAnAnswerAndWhatThePageHeldAreTheWholePage(): void
    {
        $beat = Beat::empty('Held');
        foreach ([['type' => 'fill-pad', 'pad' => 'a0', 'sample' => str_repeat('ab', 32), 'name' => 'Low', 'role' => 'kick', 'start' => 0, 'end' => 100], ['type' => 'set-pattern', 'pattern' => 'p1', 'bars' => 16], ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => array_map(static fn (int $i): array => [$i * 60, 'a0', 1 + $i % 127], range(0, 900))]] as $change) {
            $beat = Changes::apply(Changes::read($change), $beat);
        }
        $record = self::service(Beats::class)->add($beat);
        $path = '/beats/'.$record->id.'/pattern';
        $before = (string) self::ask('GET', $path)->getContent();
        $head = $record->head;
        $change = ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[77, 'a0', 99]], 'take' => [[120, 'a0'], [180, 'a0']]];
        $told = ['X-Pestle-Head' => (string) $head, 'HX-Request' => 'true', 'HX-Current-URL' => 'http://127.0.0.1:8777'.$path];
        $answer = (string) self::ask('POST', '/beats/'.$record->id.'/changes', $change, [...$told, 'X-Pestle-Has' => implode(' ', self::hashes($before))])->getContent();
        $after = (string) self::ask('GET', $path)->getContent();

        // Most pieces stay empty, and are what the page held; those that are sent are the new ones.
        self::assertLessThan(0.4 * \strlen($after), \strlen($answer));
        self::assertGreaterThanOrEqual(5, preg_match_all('~data-kept="([0-9a-f]{16})" data-same></div>~', $answer, $same));
        self::assertSame([], array_diff($same[1], self::hashes($before)));
        self::assertSame(self::hashes($after), self::hashes($answer));
        // The list that the page held, less what is taken and with what is put, is the new one.
        self::assertSame(1, preg_match('~data-hits-patch="([^"]+)"~', $answer, $patch));
        $patch = json_decode(html_entity_decode($patch[1] ?? ''), true);
        self::assertIsArray($patch);
        self::assertSame([[[120, 'a0', 3, 240, 100], [180, 'a0', 4, 240, 100]], [[77, 'a0', 99, 240, 100]]], [$patch['take'], $patch['put']]);
        [$take, $put] = [(array) $patch['take'], (array) $patch['put']];
        $rows = [...array_filter(self::hits($before), static fn (mixed $row): bool => !\in_array($row, $take, true)), ...array_values($put)];
        usort($rows, static fn (mixed $a, mixed $b): int => $a <=> $b);
        self::assertSame(self::hits($after), $rows);

        // A page that holds nothing, or something else, gets all of it.
        foreach (['', '0123456789abcdef fedcba9876543210'] as $has) {
            $head = self::service(Beats::class)->find($record->id)->head ?? 0;
            $whole = (string) self::ask('POST', '/beats/'.$record->id.'/changes', ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[78 + \strlen($has), 'a0', 50]]], [...$told, 'X-Pestle-Head' => (string) $head, 'X-Pestle-Has' => $has])->getContent();
            self::assertStringNotContainsString('data-same', $whole);
            self::assertStringNotContainsString('data-hits-patch', $whole);
            self::assertCount(\strlen($has) > 0 ? 902 : 901, self::hits($whole));
        }
    }

    /** @return list<string> of all pieces and lists of a page */
    private static function hashes(string $html): array
    {
        preg_match_all('~data-(?:kept|[a-z]+-hash)="([0-9a-f]{16})"~', $html, $found);

        return $found[1];
    }

    /** @return list<mixed> */
    private static function hits(string $html): array
    {
        self::assertSame(1, preg_match('~data-hits="([^"]+)"~', $html, $found));
        $hits = json_decode(html_entity_decode($found[1] ?? ''), true);
        self::assertIsArray($hits);

        return array_values($hits);
    }
}
