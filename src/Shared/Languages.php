<?php

declare(strict_types=1);

namespace Ypomna\App\Shared;

use Symfony\Component\DependencyInjection\Attribute\Autowire;

/** The languages that the screens speak: those for which there are translations. */
final readonly class Languages
{
    private const FIRST = 'en';

    /** @param list<string> $folders with files of translations */
    public function __construct(#[Autowire('%translation_folders%')] private array $folders)
    {
    }

    /** @return list<string> as BCP 47 has them, the first one is what is written first */
    public function all(): array
    {
        $found = [];
        foreach ($this->folders as $folder) {
            foreach ((array) glob($folder.'/messages+intl-icu.*.yaml') as $file) {
                if (1 === preg_match('/\.([A-Za-z]{2,8}(?:[_-][A-Za-z0-9]{1,8})*)\.yaml$/D', (string) $file, $m)) {
                    $found[] = $m[1];
                }
            }
        }
        sort($found);

        return array_values(array_unique([self::FIRST, ...$found]));
    }

    /** @return array<string, string> what each is called in itself */
    public function named(): array
    {
        $named = [];
        foreach ($this->all() as $one) {
            $named[$one] = (string) \Locale::getDisplayLanguage($one, $one);
        }

        return $named;
    }
}
