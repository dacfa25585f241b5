<?php

declare(strict_types=1);

namespace Ypomna\App\Access;

/**
 * What somebody may see, as a condition of queries. A row says whether its thing is limited to some; only then is it looked up who they
 * are. What is not limited costs no look-up, so a query over millions of rows takes as long as without the condition.
 */
final readonly class Sight
{
    /** Whether a grant `g` reaches a person, and the thing is not closed. */
    private const REACHES = <<<'SQL'
        EXISTS (
            SELECT 1 FROM access_grant g
            WHERE g.thing = THING AND g.closed = 0 AND (
                g.ground = 'made' AND g.holder = SEER
                OR g.ground = 'member' AND g.holder = SEER
                OR g.ground = 'held' AND EXISTS (
                    SELECT 1 FROM access_grant m WHERE m.thing = g.holder AND m.ground = 'member' AND m.holder = SEER
                )
            )
        )
        SQL;

    /** All that was granted to a person and is not closed. */
    private const THINGS = <<<'SQL'
        SELECT g.thing FROM access_grant g WHERE g.holder = SEER AND g.ground = 'made' AND g.closed = 0
        UNION
        SELECT h.thing FROM access_grant m JOIN access_grant h ON h.holder = m.thing AND h.ground = 'held' AND h.closed = 0
        WHERE m.holder = SEER AND m.ground = 'member'
        SQL;

    /** @param string|null $name of the person; null for somebody to whom nothing was granted */
    public function __construct(private bool $all, private ?string $name)
    {
    }

    /** Whether they see everything. */
    public function isWhole(): bool
    {
        return $this->all;
    }

    /** Whether they see what everybody sees, and nothing else. */
    public function isOpenOnly(): bool
    {
        return !$this->all && null === $this->name;
    }

    /**
     * The condition for rows of one thing each.
     *
     * @param string $limited SQL that is true where the thing is limited to some: a column
     * @param string $thing SQL for its code: a column
     *
     * @return string SQL in brackets
     */
    public function of(string $limited, string $thing): string
    {
        return $this->all ? '(1 = 1)' : '('.$limited.' = 0'.(null === $this->name ? '' : ' OR '.$this->reaches($thing)).')';
    }

    /**
     * The same for questions that look at very many things: all that reaches the person is gathered once, instead of asked thing by thing.
     *
     * @param string $limited SQL that is true where the thing is limited to some: a column
     * @param string $thing SQL for its code: a column
     *
     * @return string SQL in brackets
     */
    public function among(string $limited, string $thing): string
    {
        return $this->all || null === $this->name
            ? $this->of($limited, $thing)
            : '('.$limited.' = 0 OR '.$thing.' IN (SELECT s.thing FROM ('.$this->things().') s))';
    }

    /**
     * The condition for what is known to be limited to some.
     *
     * @param string $thing SQL for its code
     */
    public function reaches(string $thing): string
    {
        return match (true) {
            $this->all => '(1 = 1)',
            null === $this->name => '(1 = 0)',
            // As digits: whatever a name is made of, it ends nothing.
            default => self::granted(
                static fn (): string => $thing, $this->seer(...),
            ),
        };
    }

    /**
     * A question for the codes of all that reaches a person, as column `thing`: where few of very many things are wanted, it is asked
     * first.
     *
     * @return string SQL; it finds nothing where nothing was granted
     */
    public function things(): string
    {
        return str_replace('SEER', $this->seer(), self::THINGS);
    }

    /**
     * The condition for entities of one thing each; with the parameters of {@see self::parameters()}.
     *
     * @param string $limited path of what is true where the thing is limited to some
     * @param string $thing path of its code, or an expression
     */
    public function dql(string $limited, string $thing): string
    {
        return $this->all ? '1 = 1' : 'SEEN('.$limited.', '.$thing.', :seer) = 1';
    }

    /** @return array<string, string> */
    public function parameters(): array
    {
        return $this->all ? [] : ['seer' => $this->name ?? ''];
    }

    /**
     * @param \Closure(): string $thing SQL for its code, made anew each time it is written
     * @param \Closure(): string $seer SQL for the name of a person
     */
    public static function granted(\Closure $thing, \Closure $seer): string
    {
        return (string) preg_replace_callback(
            '/THING|SEER/', static fn (array $m): string => 'THING' === $m[0] ? $thing() : $seer(), self::REACHES,
        );
    }

    private function seer(): string
    {
        return "_utf8mb4 x'".bin2hex($this->name ?? '')."' COLLATE utf8mb4_bin";
    }
}
