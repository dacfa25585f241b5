<?php

declare(strict_types=1);

namespace Ypomna\App\Shared;

/**
 * Rows for one table, gathered into statements of many. Texts and bytes are written in hexadecimal, so that nothing in them
 * can be taken for SQL.
 */
final class BulkInsert
{
    private const MOST_ROWS = 500;
    private const MOST_BYTES = 262_144;

    private string $rows = '';
    private int $count = 0;

    /**
     * @param string $into table and columns
     * @param \Closure(string): void $run takes a statement
     * @param string $verb `INSERT`, or `REPLACE` where a row may be there already
     */
    public function __construct(private readonly string $into, private readonly \Closure $run, private readonly string $verb = 'INSERT')
    {
    }

    /**
     * @param list<int|string|null> $values
     */
    public function add(array $values): void
    {
        $row = '';
        foreach ($values as $value) {
            $row .= match (true) {
                null === $value => ',NULL',
                \is_int($value) => ','.$value,
                default => ",x'".bin2hex($value)."'",
            };
        }
        $this->rows .= (0 === $this->count ? '(' : ',(').substr($row, 1).')';
        if (++$this->count >= self::MOST_ROWS || \strlen($this->rows) >= self::MOST_BYTES) {
            $this->flush();
        }
    }

    public function flush(): void
    {
        if (0 === $this->count) {
            return;
        }
        ($this->run)($this->verb.' INTO '.$this->into.' VALUES '.$this->rows);
        $this->rows = '';
        $this->count = 0;
    }
}
