<?php

declare(strict_types=1);

namespace Ypomna\App\Access\Type;

use Doctrine\ORM\Query\AST\Functions\FunctionNode;
use Doctrine\ORM\Query\AST\Node;
use Doctrine\ORM\Query\Parser;
use Doctrine\ORM\Query\SqlWalker;
use Doctrine\ORM\Query\TokenType;
use Ypomna\App\Access\Sight;

/**
 * `SEEN(limited, code, :seer)` in questions for entities: 1 where the thing is for everybody, or granted to that person.
 * {@see Sight::dql()} writes it.
 */
final class SeenFunction extends FunctionNode
{
    private Node|string $limited = '';
    private Node|string $thing = '';
    private Node|string $seer = '';

    public function parse(Parser $parser): void
    {
        $parser->match(TokenType::T_IDENTIFIER);
        $parser->match(TokenType::T_OPEN_PARENTHESIS);
        $this->limited = $parser->ArithmeticPrimary();
        $parser->match(TokenType::T_COMMA);
        $this->thing = $parser->StringPrimary();
        $parser->match(TokenType::T_COMMA);
        $this->seer = $parser->InputParameter();
        $parser->match(TokenType::T_CLOSE_PARENTHESIS);
    }

    public function getSql(SqlWalker $sqlWalker): string
    {
        $sql = static fn (Node|string $part): string => $part instanceof Node ? $part->dispatch($sqlWalker) : $part;

        return '('.$sql($this->limited).' = 0 OR '.Sight::granted(
            fn (): string => $sql($this->thing), fn (): string => $sql($this->seer),
        ).')';
    }
}
