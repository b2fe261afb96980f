<?php

namespace Pestle\Tests;

use PHPat\Selector\Selector;
use PHPat\Test\Builder\Rule;
use PHPat\Test\PHPat;

/** The borders between the parts of Pestle, checked by PHPStan with phpat. */
final class Borders
{
    /** Folders of the core, in order: each may use only those before it. */
    private const FOLDERS = ['Theory', 'Signal', 'Audio', 'Mix', 'Analysis', 'Kit', 'Sample', 'Synth', 'Pattern', 'Song', 'Beat', 'Render', 'Exchange'];

    public function testCoreStandsAlone(): Rule
    {
        return PHPat::rule()
            ->classes(Selector::inNamespace('Pestle\Core'))
            ->canOnly()->dependOn()
            ->classes(Selector::inNamespace('Pestle\Core'))
            ->because('the core is the job itself, without framework, database or interface');
    }

    /** @return iterable<string, Rule> */
    public function testFoldersUseOnlyThoseBefore(): iterable
    {
        foreach (self::FOLDERS as $i => $folder) {
            $later = \array_slice(self::FOLDERS, $i + 1);
            if ([] !== $later) {
                yield $folder => PHPat::rule()
                    ->classes(Selector::inNamespace('Pestle\Core\\'.$folder))
                    ->shouldNot()->dependOn()
                    ->classes(...array_map(static fn (string $name) => Selector::inNamespace('Pestle\Core\\'.$name), $later))
                    ->because('a folder may use only the ones before it');
            }
        }
    }

    public function testEntitiesKnowNoControllers(): Rule
    {
        return PHPat::rule()
            ->classes(Selector::inNamespace('Pestle\App\Entity'), Selector::inNamespace('Pestle\App\Storage'))
            ->shouldNot()->dependOn()
            ->classes(Selector::inNamespace('Pestle\App\Controller'), Selector::inNamespace('Pestle\App\Page'))
            ->because('storage does not know what shows it');
    }
}
