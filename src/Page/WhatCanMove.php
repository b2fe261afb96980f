<?php

namespace Pestle\App\Page;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Parameters;
use Pestle\Core\Beat\Setting;
use Pestle\Core\Song\Movement;

/** All that can move in a beat, to be found by name: lines, instruments and pads, and of the one that is opened, or of those that are looked for, what of them. */
final readonly class WhatCanMove
{
    private const KINDS = ['tempo' => 'Time', 'mixer' => 'Lines of the mixer', 'part' => 'Parts', 'kit' => 'Pads'];
    private const MOST_FOUND = 60;

    /** @var list<string> paths that move already */
    private array $moving;

    public function __construct(private BeatPage $page, private Beat $beat)
    {
        $this->moving = array_values(array_map(static fn (Movement $m): string => $m->path, $beat->movements->all));
    }

    /** @return array<string, list<array{name: string, open: bool, url: string, settings: list<array{path: string, name: string, value: float, shown: string, moves: bool}>}>> by kind */
    public function groups(): array
    {
        $groups = [];
        $left = self::MOST_FOUND;
        foreach (Parameters::movers($this->beat) as $under => $name) {
            $open = Movement::TEMPO === $under || $under === $this->page->chosen('mover');
            $found = $this->isLookedFor() ? $this->found($under, $name, $left) : [];
            $left -= \count($found);
            if ($this->isLookedFor() && [] === $found) {
                continue;
            }
            $groups[self::KINDS[explode('/', $under)[0]]][] = [
                'name' => $name,
                'open' => $open || $this->isLookedFor(),
                'url' => $this->page->url(null, ['mover' => $open ? '' : $under]),
                'settings' => array_map($this->row(...), $this->isLookedFor() ? $found : ($open ? Parameters::moving($this->beat, $under) : [])),
            ];
        }

        return $groups;
    }

    public function isLookedFor(): bool
    {
        return '' !== trim($this->page->chosen('search'));
    }

    /** @return list<Setting> those that all words are found in */
    private function found(string $under, string $name, int $most): array
    {
        $words = array_filter(explode(' ', mb_strtolower($this->page->chosen('search'))));
        $isFound = static function (Setting $s) use ($words, $name): bool {
            $text = mb_strtolower($name.' '.$s->owner.' '.$s->parameter->name);

            return [] === array_filter($words, static fn (string $word): bool => !str_contains($text, $word));
        };

        return $most < 1 ? [] : \array_slice(array_values(array_filter(Parameters::moving($this->beat, $under), $isFound)), 0, $most);
    }

    /** @return array{path: string, name: string, value: float, shown: string, moves: bool} */
    private function row(Setting $setting): array
    {
        $own = Parameters::movers($this->beat)[implode('/', \array_slice(explode('/', $setting->path), 0, 2))] ?? $setting->owner;
        $inside = str_starts_with($setting->owner, $own.', ') ? substr($setting->owner, \strlen($own) + 2).' · ' : (str_starts_with($setting->owner, $own.' to ') ? substr($setting->owner, \strlen($own) + 1).' · ' : $this->insert($setting->path));

        return [
            'path' => $setting->path,
            'name' => $inside.$setting->parameter->name,
            'value' => is_numeric($setting->value) ? (float) $setting->value : 0.0,
            'shown' => $setting->parameter->show($setting->value),
            'moves' => \in_array($setting->path, $this->moving, true),
        ];
    }

    /** The insert that a path of a line leads into, before its name. */
    private function insert(string $path): string
    {
        [$kind, $line, $inserts, $id] = [...explode('/', $path), '', '', '', ''];
        if ('mixer' !== $kind || 'inserts' !== $inserts) {
            return '';
        }
        foreach ($this->beat->mixer->line($line)->inserts ?? [] as $insert) {
            if ($insert->id() === $id) {
                return $insert->kind()->label().' · ';
            }
        }

        return '';
    }
}
