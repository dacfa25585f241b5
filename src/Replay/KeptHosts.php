<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;

/**
 * Long names in a table. A mark cannot be computed back, and a browser asks for the parts of a page by it alone; so a name is entered
 * before the page that leads there goes out. It stays as long as any right to read does.
 */
final class KeptHosts implements LongHosts
{
    /** New names in one answer: more of them are led by {@see PageHosts::THROUGH}. */
    private const MOST = 2_000;
    private const LONGEST = 300;

    /** @var array<string, string> names that are to be kept, by mark */
    private array $new = [];
    /** @var array<string, true> marks known to be held */
    private array $known = [];

    public function __construct(private readonly Connection $database)
    {
    }

    public function mark(string $label, string $name): ?string
    {
        $mark = PageHosts::digest($label, $name);
        if (isset($this->known[$mark]) || isset($this->new[$mark])) {
            return $mark;
        }
        if (\count($this->new) >= self::MOST || \strlen($name) > self::LONGEST) {
            return null;
        }
        $this->new[$mark] = $name;

        return $mark;
    }

    public function keep(): void
    {
        if ([] === $this->new) {
            return;
        }
        $held = $this->database->fetchFirstColumn(
            'SELECT mark FROM page_host WHERE mark IN (?)', [array_map(strval(...), array_keys($this->new))], [ArrayParameterType::STRING],
        );
        $missing = array_diff_key($this->new, array_flip(array_filter($held, is_string(...))));
        foreach (array_chunk($missing, 500, true) as $some) {
            $values = [];
            foreach ($some as $mark => $name) {
                array_push($values, (string) $mark, $name);
            }
            $this->database->executeStatement(
                'INSERT IGNORE INTO page_host (mark, name, made_on) VALUES '
                    .implode(', ', array_fill(0, \count($some), '(?, ?, UTC_DATE())')),
                $values,
            );
        }
        if ([] !== $missing && 0 === random_int(0, 199)) {
            $this->database->executeStatement(
                'DELETE FROM page_host WHERE made_on < UTC_DATE() - INTERVAL '.SessionRights::DAYS.' DAY LIMIT 10000',
            );
        }
        $this->known += array_fill_keys(array_keys($this->new), true);
        $this->new = [];
    }

    public function name(string $mark): ?string
    {
        $name = $this->database->fetchOne('SELECT name FROM page_host WHERE mark = ?', [$mark]);

        return \is_string($name) ? $name : null;
    }
}
